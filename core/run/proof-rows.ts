/** What the proofs of a work order rest on: firmware page by page, and every setting. */
import {
  askedFor,
  controllerFirmware,
  controllerIs,
  escsFound,
  fieldsFound,
  fieldsPlanned,
  firmwareFound,
  firmwarePlanned,
  gyroFound,
  otherSettingsPlanned,
  pagesFound,
  rules,
  settingsFound,
  settingsPlanned,
  type GroundsQuestion,
  type ProofRow,
} from '../bench/grounds';
import {foundEsc, type FoundEsc} from '../bench/found';
import {crc32} from '../checksums';
import {controllerFields} from '../controller/fields';
import {findChip} from '../firmware/chips';
import type {KnownGround} from '../proof/ground';

const fields = controllerFields.map(({field}) => field);

export const pagesRow: ProofRow = {
  kind: 'pages',
  restsOn: ['firmware'],
  grounds: (q) => [
    rules(),
    askedFor('the plan'),
    ...escsFound(q),
    firmwarePlanned(q),
    ...firmwareFound(q),
    ...pageSums(q),
  ],
};

export const settingsRow: ProofRow = {
  kind: 'settings',
  restsOn: ['firmware', 'settings', 'controller'],
  grounds: (q) => [
    rules(),
    askedFor('the plan'),
    ...escsFound(q),
    ...settingsFound(q),
    ...pagesFound(q),
    ...settingsPlanned(q),
    ...controllerIs(q),
    ...controllerFirmware(q),
    ...fieldsFound(q, fields),
    ...gyroFound(q),
    ...fieldsPlanned(q, fields),
    ...otherSettingsPlanned(q),
  ],
};

/** One checksum over those of all pages of an ESC's images. */
function pageSums({craft, found}: GroundsQuestion): KnownGround[] {
  const value = craft.arms.map((_, output) => {
    const esc = found && foundEsc(found, output);
    return (esc && pageSum(esc)) ?? null;
  });
  if (value.every((v) => v === null)) return [];
  const sentence: KnownGround['sentence'] = (_was, _is, motor) =>
    `pages of motor ${motor! + 1} are not those that were checked`;
  return [{key: 'page sums', value, name: 'the checksum of the pages', sentence}];
}

/** Undefined where no application checks, or no page was asked for. */
function pageSum({boot, identity, module, pageCrcs}: FoundEsc): number | undefined {
  const chip = findChip(boot.chip);
  if (!chip || !identity || !pageCrcs.length) return undefined;
  const {application, pageBytes} = chip;
  const of = (start: number, length: number) => {
    const first = (start - application.start) / pageBytes;
    return pageCrcs.slice(first, first + Math.ceil(length / pageBytes));
  };
  const sums = [
    ...of(application.start, identity.imageLength),
    ...(module && chip.module ? of(chip.module.start, module.imageLength) : []),
  ];
  return crc32(new Uint8Array(Uint32Array.from(sums).buffer));
}
