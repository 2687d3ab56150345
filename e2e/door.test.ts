/**
 * Hardware's door: Bidex in Chromium, a bridge, a serial device, and the stand-in on it at 115,200 bit/s in real time. The
 * devices are pseudo-terminals that socat (Debian) joins.
 */
import {expect, test, type Page} from './test';
import {WebSocket} from 'ws';
import {writePage, type EscWire} from '@core/bench/esc-access';
import {chips} from '@core/firmware/chips';
import {enterBridge, type BridgeSocket} from '@core/link/bridge-port';
import {BenchClient} from '@core/link/client';
import {clockOf} from '@core/link/clock';
import type {Clock} from '@core/link/port';
import {leaseMs, SpinLease} from '@core/spin/hold/lease';
import {SerialBench, SerialDevice} from './serial';
import {beginOrder, docketOf, expectAccessible, holdUntil} from './support';

// A bench of its own moves on its own clock, and a hand holds on the browser's.
test.use({pace: 0, drawEveryMs: 0});

const origin = 'http://127.0.0.1:4399';

async function bridgeTo(serial: SerialBench, ...more: readonly string[]) {
  const program = serial.door('bridge', '--serial', serial.near, '--listen', '0', '--page', origin, ...more);
  const at = await program.said(/127\.0\.0\.1:(\d+) for/);
  return {program, at, code: await program.said(/Code: (\S+)/)};
}

async function chooseTheBridge(page: Page, {at, code}: {at: string; code: string}): Promise<void> {
  await page.goto('/');
  await page.getByRole('button', {name: 'Connect Juniper in another way'}).click();
  await page.getByRole('radio', {name: /^Bridge on this computer/}).check();
  await page.getByLabel('at port').fill(at);
  await page.getByLabel('Type the code that it shows').fill(code);
}
/** Stops every process that draws a page for so long, as a browser does with one that nobody looks at. */
async function frozen(page: Page, ms: number): Promise<void> {
  const session = await page.context().browser()!.newBrowserCDPSession();
  const {processInfo} = await session.send('SystemInfo.getProcessInfo');
  const pages = processInfo.filter(({type}) => type === 'renderer').map(({id}) => id);
  for (const id of pages) process.kill(id, 'SIGSTOP');
  await new Promise((resolve) => setTimeout(resolve, ms));
  for (const id of pages) process.kill(id, 'SIGCONT');
}

const connect = (page: Page) => page.getByRole('dialog').getByRole('button', {name: 'Connect', exact: true}).click();

test('Juniper over a bridge and a serial device: surveyed, written with the cable pulled in between, resumed', async ({
  page,
}) => {
  const serial = new SerialBench();
  try {
    await serial.begin('juniper');
    const bridge = await bridgeTo(serial, '--stay');
    await chooseTheBridge(page, {...bridge, code: 'AAAA-AAAA'});
    await connect(page);
    await expect(page.getByRole('dialog').getByText('The bridge did not accept the code.')).toBeVisible();
    await expectAccessible(page, 'wrong code at the bridge');
    await page.getByLabel('Type the code that it shows').fill(bridge.code);
    await connect(page);
    await expect(page.getByRole('dialog')).toBeHidden();
    await expect(page.getByRole('button', {name: 'Bench link, simulated'})).toBeVisible();
    await page.getByRole('link', {name: 'Juniper'}).first().click();
    await page.goto('/craft/juniper/survey');
    await page.getByRole('button', {name: 'Connect the bench'}).click();
    await expect(page.getByText('What stands out')).toBeVisible({timeout: 90_000});
    const docket = docketOf(page);
    await docket.getByRole('button', {name: 'Propellers are off'}).click();
    await beginOrder(page);
    const writing = docket.getByText(/page \d+ of/).first();
    await expect(writing).toBeVisible({timeout: 90_000});
    // A stall of the bridge, shorter than what a link bears.
    bridge.program.stall(true);
    await page.waitForTimeout(700);
    bridge.program.stall(false);
    await page.waitForTimeout(2000);
    // The browser freezes the page: longer than a lease, an answer and a link bear.
    await frozen(page, 8_000);
    await expect(page.getByText(/^This page did not run for \d+ s/)).toBeVisible();
    await expect(writing).toBeVisible();
    await page.waitForTimeout(2000);
    await serial.pullOut();
    await expect(page.getByText(/cable is out/).first()).toBeVisible();
    await expect(docket.getByText('Stopped, not lost')).toBeVisible();
    await serial.plugIn();
    // Another program takes the port first.
    const thief = serial.door('bridge', '--serial', serial.near, '--listen', '0', '--page', origin);
    await thief.said(/Code: /);
    await thief.end();
    await page.waitForTimeout(1000);
    await docket.getByRole('button', {name: 'Connect the bench'}).click();
    await docket.getByRole('button', {name: 'Resume work order'}).click({timeout: 60_000});
    await expect(docket.getByText('Bidex sees it on the power reading and goes on by itself.')).toBeVisible({
      timeout: 240_000,
    });
    serial.hand('battery off');
    await page.waitForTimeout(1500);
    serial.hand('battery on');
    await docket.getByRole('button', {name: 'Propellers are off'}).click({timeout: 120_000});
    // A frame that is late by 200 ms ends a hold, as it should: a person holds again.
    for (let tries = 1, isDone = false; !isDone; tries++) {
      await holdUntil(page, /Hold to prove /, () =>
        expect(docket.getByText('carried out').or(docket.getByText('Stopped, not lost'))).toBeVisible(),
      );
      isDone = await docket.getByText('carried out').isVisible();
      expect(isDone || tries < 3, 'three holds were ended').toBe(true);
      if (!isDone) await docket.getByRole('button', {name: 'Resume work order'}).click();
    }
    await page.getByRole('button', {name: 'Bench link, simulated'}).click();
    await page.getByRole('button', {name: 'Measure again'}).click();
    const trip = page.getByRole('dialog').getByText(/^Round trip/);
    await expect(trip).toBeVisible();
    console.log(`115,200 bit/s, a bridge: ${(await trip.textContent())!.trim()}`);
  } finally {
    await serial.end();
  }
});

/** Writes the whole application range beside a lease that turns nothing; tells whether no renewal left it a gap. */
async function writeBesideLease(wire: EscWire, clock: Clock): Promise<boolean> {
  const {client} = wire;
  const chip = chips.M32;
  const lost: unknown[] = [];
  const lease = new SpinLease(client, clock, (error) => lost.push(error));
  lease.set([{output: 0, throttle: 0}]);
  await expect.poll(() => lease.isBegun).toBe(true);
  const began = clock.now();
  const {start, end} = chip.application;
  for (let address = start; address < end; address += chip.pageBytes)
    await writePage(wire, chip, {address, bytes: new Uint8Array(chip.pageBytes).fill(address / chip.pageBytes)});
  const held = !lost.length && !lease.mayHaveLapsedSince(began);
  await lease.stop();
  const trips = [...client.roundTrips].sort((a, b) => a - b);
  const within = (share: number) => `${trips[Math.floor(trips.length * share)]?.toFixed(0)} ms`;
  console.log(
    `${end - start} bytes written in ${((clock.now() - began) / 1000).toFixed(1)} s beside a lease of ${leaseMs} ms, ` +
      `${held ? 'held' : 'lapsed'}: round trip ${within(0.5)} in the middle, 99 of 100 within ${within(0.99)}`,
  );
  return held;
}

test('a lease of 200 ms holds over the bridge and the serial device while a whole flash is written beside it', async () => {
  const serial = new SerialBench();
  try {
    await serial.begin('juniper');
    const bridge = await bridgeTo(serial);
    const clock = clockOf(globalThis);
    const socket = new WebSocket(`ws://127.0.0.1:${bridge.at}/`, {origin});
    socket.binaryType = 'arraybuffer';
    const desk = await enterBridge(socket as unknown as BridgeSocket, bridge.code, (ms, callback) =>
      clock.after(ms, callback),
    );
    const client = new BenchClient(await desk.open(), clock);
    await client.hello();
    const wire = {client, wire: 3, name: 'motor 4'};
    await client.request('esc.enter', {output: wire.wire});
    // What a busy machine keeps back is not the road's: the best of three counts.
    let held = await writeBesideLease(wire, clock);
    for (let tries = 1; !held && tries < 3; tries++) held = await writeBesideLease(wire, clock);
    expect(held).toBe(true);
    await client.close();
  } finally {
    await serial.end();
  }
});

/**
 * A stand-in of navigator.serial: its one port carries its bytes to the pseudo-terminal by way of the test. A person's chooser
 * is not there: `refuses` says that they close it.
 */
async function standInForSerial(page: Page, device: SerialDevice): Promise<void> {
  await page.exposeBinding('serialOpen', () => device.open());
  await page.exposeBinding('serialClose', () => device.close());
  await page.exposeBinding('serialWrite', (_, bytes: number[]) => device.write(bytes));
  await page.exposeBinding('serialRead', () => device.read());
  await page.addInitScript(() => {
    const call = window as unknown as Record<string, (...args: unknown[]) => Promise<unknown>>;
    const events = new EventTarget();
    const port = Object.assign(new EventTarget(), {
      readable: null as ReadableStream<Uint8Array> | null,
      writable: null as WritableStream<Uint8Array> | null,
      getInfo: () => ({usbVendorId: 0x1209, usbProductId: 0x5741}),
      async open() {
        if (!(await call['serialOpen']!())) throw new DOMException('Failed to open serial port.', 'NetworkError');
        port.readable = new ReadableStream({
          async pull(controller) {
            const bytes = (await call['serialRead']!()) as number[] | null;
            if (!bytes) controller.error(new DOMException('The device has been lost.', 'NetworkError'));
            else controller.enqueue(new Uint8Array(bytes));
          },
        });
        port.writable = new WritableStream({write: (bytes) => call['serialWrite']!([...bytes]).then(() => undefined)});
      },
      close: () => call['serialClose']!(),
    });
    // The event of a port that was plugged in again comes to its port and rises to the interface.
    const appeared = () => {
      const event = new Event('connect');
      Object.defineProperty(event, 'target', {value: port});
      events.dispatchEvent(event);
    };
    Object.assign(window, {serialAppeared: appeared});
    Object.defineProperty(navigator, 'serial', {
      value: Object.assign(events, {
        getPorts: () => Promise.resolve(sessionStorage.getItem('allowed') ? [port] : []),
        requestPort: () => {
          if (sessionStorage.getItem('refuses'))
            throw new DOMException('No port selected by the user.', 'NotFoundError');
          sessionStorage.setItem('allowed', 'yes');
          return Promise.resolve(port);
        },
      }),
    });
  });
}

test('Juniper over the serial interface of the browser: refused, held, chosen, surveyed, opened again without a choice', async ({
  page,
}) => {
  const serial = new SerialBench();
  const device = new SerialDevice(serial.near);
  try {
    await serial.begin('juniper');
    await standInForSerial(page, device);
    await page.goto('/');
    await page.evaluate(() => sessionStorage.setItem('refuses', 'yes'));
    await page.getByRole('button', {name: 'Connect Juniper in another way'}).click();
    await page.getByRole('radio', {name: /^Serial port of this browser/}).check();
    await connect(page);
    const dialog = page.getByRole('dialog');
    await expect(dialog.getByText('No serial port was chosen.')).toBeVisible();
    await expect(dialog.getByText('No port appeared')).toBeVisible();
    await page.evaluate(() => sessionStorage.removeItem('refuses'));
    device.isHeld = true;
    await connect(page);
    await expect(dialog.getByText('The port is there and is held')).toBeVisible();
    await expectAccessible(page, 'a held port');
    device.isHeld = false;
    await connect(page);
    await expect(dialog).toBeHidden({timeout: 90_000});
    await expect(page.getByRole('button', {name: 'Bench link, simulated'})).toBeVisible();
    await page.reload();
    await page.evaluate(() => sessionStorage.setItem('refuses', 'yes'));
    await page.getByRole('button', {name: 'Connect the bench of Juniper'}).click();
    await expect(page.getByText('What stands out')).toBeVisible({timeout: 90_000});
    await serial.pullOut();
    await expect(page.getByText(/cable is out/).first()).toBeVisible();
    await serial.plugIn();
    await page.evaluate(() => (window as unknown as {serialAppeared: () => void}).serialAppeared());
    await expect(page.getByRole('button', {name: 'Bench link, simulated'})).toBeVisible({timeout: 60_000});
    await expect(page.getByText(/cable is out/)).toHaveCount(0);
  } finally {
    await device.close();
    await serial.end();
  }
});

test.describe('a page of another origin', () => {
  test('reaches no bridge', async ({page}) => {
    const serial = new SerialBench();
    try {
      await serial.begin('juniper');
      const {at, code} = await bridgeTo(serial);
      // The same server under another name is another origin.
      await page.goto('http://localhost:4399/api/releases');
      const closed = await page.evaluate(
        ([port, own]) =>
          new Promise<number>((resolve) => {
            const socket = new WebSocket(`ws://127.0.0.1:${port!}/`);
            socket.onopen = () => socket.send(JSON.stringify({code: own}));
            socket.onmessage = () => resolve(0);
            socket.onclose = (event) => resolve(event.code);
          }),
        [at, code],
      );
      expect(closed).toBe(1006);
    } finally {
      await serial.end();
    }
  });
});
