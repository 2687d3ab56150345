/** Signal: protocols led to one that works, captures dropped, pole counts, and the frame desk. */
import {readFileSync} from 'node:fs';
import {expect, test} from './test';
import {ask} from '../tools/door/ask';
import {writeVcd} from '@core/capture/read/write-vcd';
import {encodeCommand} from '@core/dshot/command';
import {encodePeriod, groupCodes, lineOfGroups, periodOfErpm, replyGroups} from '@core/dshot/reply';
import {commandEdges, replyEdges} from '@core/dshot/waveform';
import {
  armingView,
  connectAndSurvey,
  docketOf,
  drop,
  expectAccessible,
  spinView,
  station,
  watchErrors,
} from './support';

test('a frame is laid out bit by bit, saved as a dump, and bits from elsewhere get their meaning or their fault', async ({
  page,
}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page);
  await station(page, 'Signal').click();
  await spinView(page, 'Frame desk').click();
  const bits = page.getByRole('group', {name: 'Bits of the command'});
  // 1046 on a bidirectional wire: the published example, 0x82C6, with its checksum turned over.
  await expect(page.getByText('0x82C9')).toBeVisible();
  await page.getByRole('group', {name: 'Wire'}).getByText('plain').click();
  await expect(page.getByText('0x82C6')).toBeVisible();
  await expect(bits).toContainText('10000010110');
  await page.getByRole('combobox', {name: 'Command'}).click();
  await page.getByRole('option', {name: '13, extended replies on'}).click();
  await expect(page.getByRole('spinbutton', {name: 'Value'})).toHaveValue('13');
  await page.getByRole('group', {name: 'Wire'}).getByText('bidirectional').click();
  await page.getByRole('group', {name: 'Protocol'}).getByText('DShot600').click();
  await expect(page.getByText('command 26.7 µs, pause about 30 µs, reply 28.0 µs, in all 84.7 µs')).toBeVisible();

  const saved = page.waitForEvent('download');
  await page.getByRole('button', {name: 'Save as VCD'}).click();
  const file = await (await saved).path();
  expect(readFileSync(file, 'utf8')).toContain('$timescale 1 ns $end');
  const {output} = await ask(['capture', file, '--poles', '14']);
  const {wires} = output as {wires: {replies: {rpm: number}[]}[]};
  expect(wires).toMatchObject([
    {protocol: 'dshot600', bidirectional: true, commands: [{value: 13, ok: true}], replies: [{status: 'ok'}]},
  ]);
  // 12,000 rpm, to the nine bits of the mantissa.
  expect(Math.abs(wires[0]!.replies[0]!.rpm / 12_000 - 1)).toBeLessThan(1 / 512);

  const typed = page.getByLabel('Bits or a hex word');
  await typed.fill('0x82C5');
  await expect(page.getByRole('status').getByText(/Checksum 0x5; value 1046 .* has 0x6 on a plain wire/)).toBeVisible();
  await typed.fill('00000 11001 11001 11001');
  await expect(page.getByText('Group 1 of 4 is 00000, which is not a valid GCR code.')).toBeVisible();
  await expectAccessible(page, 'Frame desk');
  errors.expectNone();
});

test('Sorrel: an impossible protocol is led to one that works, by its findings alone', async ({page}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page, 'Sorrel');
  await station(page, 'Signal').click();
  const pairs = page.getByRole('table', {name: 'Protocols and loop rates'});
  // Its 8-bit ESCs answer DShot300 at most.
  const wrong = pairs.getByRole('button', {name: /^DShot600 with replies at 2 kHz: impossible/});
  await wrong.click();
  await expect(wrong).toHaveAttribute('aria-pressed', 'true');
  const findings = page.getByRole('list', {name: 'Findings on the plan'});
  await expect(findings).toContainText('too fast for the ESC');
  await expect(findings).toContainText(/K8 answers bits of 3.33 µs at the shortest, DShot300; DShot600 has 1.67/);
  await expect(docketOf(page)).toContainText('DShot600 with replies is faster than K8 receives');
  // Arming judges loop rates by the same rule.
  await station(page, 'Arming').click();
  await armingView(page, 'Loop').click();
  await expect(page.getByRole('row', {name: /^2 kHz/})).toContainText('too fast for the ESC');
  await station(page, 'Signal').click();
  await findings.getByRole('button', {name: /^Plan DShot\d+ with replies at \d kHz/}).click();
  await expect(findings).toContainText('fits');
  await expect(findings.getByRole('button')).toHaveCount(0);
  // Both sides at once: the order writes protocol, replies and poles.
  await expect(docketOf(page).getByText('Bidirectional replies off → on')).toBeVisible();
  await expect(docketOf(page).getByText('Motor poles 14 → 12')).toBeVisible();
  await expect(docketOf(page)).not.toContainText('faster than K8 receives');

  // By keyboard: one cell of the table is reached by Tab, the others by arrows.
  await pairs.locator('[tabindex="0"]').focus();
  await page.keyboard.press('ArrowUp');
  await expect(pairs.locator(':focus')).toHaveAttribute('aria-label', /kHz: /);
  await page.getByRole('combobox', {name: 'ESC chip'}).click();
  await page.getByRole('option', {name: 'M32, DShot600'}).click();
  await expect(page.getByText('not this craft')).toBeVisible();
  await expectAccessible(page, 'Budget');
  errors.expectNone();
});

/** A thousand exchanges at DShot300, 4 kHz; of two replies one has a wrong checksum and one did not come. */
function exchanges(): string {
  const [bad, missing] = [612, 800];
  const edges = Array.from({length: 1000}, (_, i) => {
    const at = i * 250 + 40;
    const groups = replyGroups(encodePeriod(periodOfErpm(84_000 + 20 * i)));
    if (i === bad) groups[3] = groupCodes[(groupCodes.indexOf(groups[3]!) + 1) % 16]!;
    const command = commandEdges(encodeCommand({value: 900, telemetryRequest: false}, true), 'dshot300', true);
    const reply = i === missing ? [] : replyEdges(lineOfGroups(groups), 'dshot300');
    return [...command, ...reply].map(({us}) => (us + at) * 1e-6);
  }).flat();
  const wire = {name: 'probe.d0', first: 1, edges: Float64Array.from(edges), unknown: new Float64Array(0)} as const;
  return writeVcd([wire], 0.2502);
}

test('a capture is dropped, and its bad reply is found in three clicks', async ({page}) => {
  const errors = watchErrors(page);
  await connectAndSurvey(page);
  // The wire has a second name, as a port of a module inside has.
  const dump = exchanges().replace(
    /^\$var wire 1 (\S+) \S+.*\$end$/m,
    (line, code: string) => `${line}\n$var wire 1 ${code} d0_pad $end`,
  );
  await drop(page, 'four wires.vcd', dump);
  await expect(page.getByRole('table', {name: 'Wires of the capture'})).toContainText('also probe.d0_pad');
  await expect(page.getByRole('heading', {name: 'Wires of four wires.vcd'})).toBeVisible();
  const wires = page.getByRole('table', {name: 'Wires of the capture'});
  await expect(wires).toContainText('DShot300, bidirectional');
  await expect(wires.getByRole('row').nth(1)).toContainText('1,000');
  await expect(page.getByRole('list', {name: 'Findings on the wire'})).toContainText(
    '1 missing and 1 bad of 1,000 replies',
  );
  // Faults come first: the first click is on the bad reply itself.
  const frames = page.getByRole('group', {name: 'Frames of the wire'});
  const bad = frames.getByRole('button', {name: 'reply 612, faulty: wrong checksum'});
  await bad.click();
  await expect(bad).toHaveClass(/picked/);
  const timeline = page.getByRole('img', {name: /^Timeline of 1 wires/});
  const span = async () => ((await timeline.getAttribute('data-span')) ?? '0 0').split(' ').map(Number);
  await expect.poll(async () => Math.abs((await span())[0]! - 0.153125) < 2e-4).toBe(true);
  const [from, to] = await span();
  expect(to! - from!).toBeLessThan(4e-4);

  // And the other way: all frames, the timeline clicked, the row comes into sight.
  await page.getByText('All, 2,000').click();
  await timeline.focus();
  for (let i = 0; i < 2; i++) await page.keyboard.press('ArrowLeft');
  await expect.poll(async () => (await span())[0]! < from!).toBe(true);
  const {width} = (await timeline.boundingBox())!;
  await timeline.click({position: {x: 96 + 0.3 * (width - 96), y: 45}});
  await expect(frames.locator('.picked')).toBeVisible();
  await expect(frames.locator('.picked')).toHaveAttribute('aria-label', /^command 612, right/);

  const saved = page.waitForEvent('download');
  await page.getByRole('button', {name: 'Save as CSV'}).click();
  const rows = readFileSync(await (await saved).path(), 'utf8')
    .trim()
    .split('\n');
  expect(rows).toHaveLength(2001);
  expect(rows.filter((r) => r.includes('wrong checksum'))).toHaveLength(1);
  await expectAccessible(page, 'Captures');

  await drop(page, 'notes.vcd', 'this is no dump');
  await expect(page.getByText('Nothing in it is one of the formats that Bidex opens.')).toBeVisible();
  await page
    .locator('bx-captures-view input[type=file]')
    .setInputFiles({name: 'notes.vcd', mimeType: 'text/plain', buffer: Buffer.from('this is no dump')});
  await expect(page.getByText('No wire could be read from it.')).toBeVisible();
  errors.expectNone();
});

test('poles: a wrong count is told with what it does, and set right', async ({page}) => {
  await connectAndSurvey(page, 'Sorrel');
  await station(page, 'Signal').click();
  await spinView(page, 'Poles').click();
  const tells = page.getByRole('list', {name: 'What shows the pole count'});
  await expect(tells).toContainText('It holds 14: its speeds read 0.86 × what they are.');
  const table = page.getByRole('table', {name: 'What a wrong pole count does'});
  await expect(table.getByRole('row', {name: /^12 /})).toContainText('nothing');
  await expect(table.getByRole('row', {name: /^14 /})).toContainText('0.857');
  await expectAccessible(page, 'Poles');
});
