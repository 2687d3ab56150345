/** The conformance check: the stand-in keeps to every rule, and each deliberate fault is found by the rule that is for it. */
import {describe, expect, it} from 'vitest';
import {demoFleet} from '@demo/craft/fleet';
import {openPort} from '@simulator/hardware/wires/port';
import {Harness} from '@simulator/testing/bench-harness';
import {faults, openFaultyPort} from '@simulator/testing/faulty-adapter';
import {NetworkDoor, type LaxDoor} from '@simulator/hardware/wires/network-door';
import {controllerBoards, plumbImage} from '@simulator/firmware/plumb';
import {findControllerChip} from '../controller/firmware/chips';
import {extent, flatten} from '../firmware/image';
import {sleep, type BytePort} from '../link/port';
import {checkAdapter, conformanceRules, type CheckQuestion} from './check-adapter';

/** @param door how the adapter lets connections in over a network; undefined where it is on a cable. */
function check(
  h: Harness,
  open: () => BytePort,
  {propsOff = false, door, only}: Partial<Pick<CheckQuestion, 'propsOff' | 'only'>> & {door?: LaxDoor} = {},
) {
  h.bench.setBattery(true);
  h.bench.clippedTo = 0;
  const network = door && new NetworkDoor(open, door);
  const connect = () => Promise.resolve(network ? network.connect() : open());
  return h.run(
    checkAdapter({
      ...{open: connect, clock: h.time, propsOff, only, overNetwork: door !== undefined},
      firmwareFor: ({board, version}) => controllerApplication(board, version),
    }),
  );
}

function controllerApplication(board: string, version: string): Uint8Array {
  const {start} = findControllerChip(controllerBoards.find((b) => b.name === board)!.chip)!.application;
  const image = plumbImage(version, board);
  return flatten(image, {start, end: extent(image)!.end});
}

describe.each(demoFleet.map((craft) => [craft.id, craft] as const))('the stand-in of %s', (_, craft) => {
  it('keeps to every rule that can be tried on it, and flash is as before', async () => {
    const h = new Harness({craft});
    const flashBefore = h.bench.escs.map(({flash, chip}) => Buffer.from(flash.read(0, chip.flashBytes)));
    h.bench.controller.restart();
    const configBefore = structuredClone(h.bench.controller.running);
    const {rules} = await check(h, () => openPort(h.bench), {door: {}});
    expect(h.bench.controller.running).toEqual(configBefore);
    expect(rules.filter((r) => r.result === 'broken')).toEqual([]);
    expect(rules).toHaveLength(conformanceRules.length);
    const untried = rules.filter((r) => r.result === 'not tried').map((r) => r.id);
    const isAdapter = h.bench.road === 'single-wire';
    expect(untried.some((id) => id.startsWith('spin-'))).toBe(isAdapter);
    expect(untried.includes('single-wire')).toBe(!isAdapter);
    h.bench.escs.forEach(({flash, chip}, i) =>
      expect(flashBefore[i]!.equals(Buffer.from(flash.read(0, chip.flashBytes)))).toBe(true),
    );
  });
});

describe('a fault', () => {
  it.each(Object.keys(faults))('"%s" is found by the rule that is for it', async (name) => {
    const h = new Harness();
    const {foundBy, door = {}} = faults[name]!();
    const {rules} = await check(h, () => openFaultyPort(h.bench, name), {door, only: [foundBy]});
    const broken = rules.filter((r) => r.result === 'broken').map((r) => r.id);
    expect(broken).toContain(foundBy);
  });

  it('is not seen by the other rules of its group where it has nothing to do with them', async () => {
    const h = new Harness();
    const {rules} = await check(h, () => openFaultyPort(h.bench, 'writes-its-bootloader'));
    expect(rules.filter((r) => r.result === 'broken').map((r) => r.id)).toEqual([
      'bootloader-kept',
      'bootloader-erase',
    ]);
  });
});

describe('what turns motors', () => {
  it('is left alone on hardware until a person says that the propellers are off', async () => {
    const real = () => {
      const h = new Harness();
      const commanded: number[] = [];
      const {train} = h.bench;
      const command = train.command.bind(train);
      train.command = (output, value, until) => {
        commanded.push(value);
        command(output, value, until);
      };
      return {h, commanded, open: () => openPort(asHardware(h))};
    };
    const without = real();
    const {rules} = await check(without.h, without.open);
    expect(rules.filter((r) => r.id.startsWith('spin-')).every((r) => r.result === 'not tried')).toBe(true);
    expect(without.commanded.filter((v) => v > 0)).toEqual([]);
    const off = real();
    const said = await check(off.h, off.open, {propsOff: true});
    expect(said.rules.filter((r) => r.result === 'broken')).toEqual([]);
    expect(off.commanded.some((v) => v > 0)).toBe(true);
    expect(Math.max(...off.commanded)).toBe(108);
  });

  it('without ESC power the rules that need it say so', async () => {
    const h = new Harness();
    h.bench.setBattery(false);
    const {rules} = await h.run(
      checkAdapter({open: () => Promise.resolve(openPort(h.bench)), clock: h.time, propsOff: true}),
    );
    expect(rules.find((r) => r.id === 'bootloader-kept')).toMatchObject({
      result: 'not tried',
      detail: expect.stringContaining('battery'),
    });
    expect(rules.filter((r) => r.result === 'broken')).toEqual([]);
  });
});

/** The stand-in, not saying that it is one. */
function asHardware(h: Harness): Harness['bench'] {
  const {bench} = h;
  Object.defineProperty(bench, 'standIn', {value: false});
  return bench;
}

describe('a machine that stalls for longer than a lease', () => {
  /** What is asked for `esc.enter` goes out `stallMs` late, `times` times. */
  const stalling = (h: Harness, stallMs: number, times: number): BytePort => {
    const port = openPort(h.bench);
    const writer = port.writable.getWriter();
    let left = times;
    return {
      readable: port.readable,
      writable: {
        getWriter: () => ({
          close: () => writer.close(),
          write: async (bytes) => {
            if (left > 0 && new TextDecoder('latin1').decode(bytes).includes('esc.enter')) {
              left--;
              await sleep(h.time, stallMs);
            }
            await writer.write(bytes);
          },
        }),
      },
    };
  };

  it('finds no fault in an adapter that stopped the motor meanwhile, as it must, and still finds one that is there', async () => {
    const h = new Harness();
    const {rules} = await check(h, () => stalling(h, 250, 3), {propsOff: true, only: ['spin-outputs']});
    expect(rules).toMatchObject([{id: 'spin-outputs', result: 'kept'}]);
    const again = new Harness();
    const always = await check(again, () => stalling(again, 250, Infinity), {propsOff: true, only: ['spin-outputs']});
    expect(always.rules).toMatchObject([{result: 'broken', detail: expect.stringContaining('it was done')}]);
  });
});
