/**
 * The settings page of an ESC: the first 64 bytes hold the settings, the rest belongs to the firmware.
 *
 * | offset | size | field |
 * |---|---|---|
 * | 0 | 2 | magic 0xB5 0x5E |
 * | 2 | 1 | layout revision |
 * | 3 | 1 | reserved |
 * | 4 | 58 | parameters and bytes Bidex does not know |
 * | 62 | 2 | CRC-16/IBM-3740 of bytes 0…61, little-endian |
 *
 * Bytes that no definition names are kept as they are.
 */
import {crc16} from '../checksums';
import {failure, success, type Result} from '../problem';
import type {Variant} from './variant';
import {
  definitionOf,
  isLayoutRevision,
  parameterDefinitions,
  storageOf,
  type LayoutRevision,
  type ParameterKey,
  type Storage,
} from './definitions';

export const settingsBytes = 64;

export type Settings = Readonly<Partial<Record<ParameterKey, number>>>;

export interface DecodedSettings {
  readonly layout: LayoutRevision;
  readonly values: Settings;
  /** What the firmware that reads them is made for; multirotors where left out. */
  readonly variant?: Variant | undefined;
}

type SettingsFault = 'blank' | 'no-settings' | 'damaged' | 'unknown-layout';

/** Reads the first 64 bytes of a settings page as firmware of `variant` does. */
export function decodeSettings(
  page: Uint8Array,
  variant: Variant = 'multirotor',
): Result<DecodedSettings, SettingsFault> {
  if (page.length < settingsBytes) return failure('no-settings');
  if (page.subarray(0, settingsBytes).every((b) => b === 0xff)) return failure('blank');
  if (page[0] !== 0xb5 || page[1] !== 0x5e) return failure('no-settings');
  const view = new DataView(page.buffer, page.byteOffset, settingsBytes);
  if (view.getUint16(62, true) !== crc16(page.subarray(0, 62))) return failure('damaged');
  const layout = page[2]!;
  if (!isLayoutRevision(layout)) return failure('unknown-layout');
  const values: Partial<Record<ParameterKey, number>> = {};
  for (const definition of parameterDefinitions) {
    const place = storageOf(definition, layout, variant);
    if (place)
      values[definition.key] = fromStored(
        place,
        place.width === 2 ? view.getUint16(place.offset, true) : view.getUint8(place.offset),
      );
  }
  return success({layout, values, ...(variant !== 'multirotor' && {variant})});
}

/**
 * Fresh 64 bytes of `layout` with `values` set; every other byte comes from `base`, which must be of the same layout
 * or blank. Throws when the layout cannot hold a value: the caller checks the plan first.
 */
export function encodeSettings(layout: LayoutRevision, values: Settings, base?: Uint8Array): Uint8Array {
  const page = new Uint8Array(settingsBytes);
  if (base) page.set(base.subarray(0, settingsBytes));
  page[0] = 0xb5;
  page[1] = 0x5e;
  page[2] = layout;
  const view = new DataView(page.buffer);
  for (const {key, storage} of parameterDefinitions) {
    const place = storage[layout];
    const value = values[key];
    if (!place || value === undefined) continue;
    const stored = toStored(place, value);
    const top = place.width === 2 ? 0xffff : 0xff;
    if (!Number.isInteger(stored) || stored < 0 || stored > top)
      throw new RangeError(`${key} = ${value} cannot be stored in layout ${layout}`);
    if (place.width === 2) view.setUint16(place.offset, stored, true);
    else view.setUint8(place.offset, stored);
  }
  view.setUint16(62, crc16(page.subarray(0, 62)), true);
  return page;
}

/** Tenths of a volt and the like have no exact binary form: both ways round to a millionth. */
const exact = (value: number) => Math.round(value * 1e6) / 1e6;
function fromStored({scale = 1, bias = 0, codes = {}}: Storage, stored: number): number {
  const coded = Object.entries(codes).find(([, code]) => code === stored);
  return coded ? Number(coded[0]) : exact((stored + bias) * scale);
}
const toStored = ({scale = 1, bias = 0, codes}: Storage, value: number): number =>
  codes?.[value] ?? exact(value / scale - bias);

/** The variant whose firmware held these values: one that has parameters of its own tells itself by them. */
export const variantHolding = (values: Settings): Variant =>
  parameterDefinitions.find(({key, variants}) => variants && key in values)?.variants?.[0] ?? 'multirotor';

/** A value of some settings; the default where they do not say it. */
export const valueIn = (settings: Settings, key: ParameterKey): number => settings[key] ?? definitionOf(key).default;

/** Values a firmware of `layout` starts with when its page is blank or not understood. */
export function defaultSettings(layout: LayoutRevision, variant: Variant = 'multirotor'): Settings {
  const values: Partial<Record<ParameterKey, number>> = {};
  for (const d of parameterDefinitions) if (storageOf(d, layout, variant)) values[d.key] = d.default;
  return values;
}
