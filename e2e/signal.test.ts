/** Signal: the frame desk, whose frames another program reads back. */
import {readFileSync} from 'node:fs';
import {expect, test} from '@playwright/test';
import {mainCapture} from '../tools/bidex';
import {connectAndSurvey, expectAccessible, spinView, station, watchErrors} from './support';

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
  const {output} = await mainCapture([file, '--poles', '14']);
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
  await expect(page.getByText('Group 1 of 4 is 00000, which stands for nothing.')).toBeVisible();
  await expectAccessible(page, 'Frame desk');
  errors.expectNone();
});
