/** Parameters that an older Bidex had no name for lie in the settings pages it kept: they are read from there. */
import {decodeSettings, variantHolding} from '../settings/page';
import {variantNamed} from '../settings/variant';
import type {Found} from '../bench/found';
import {bytesOfHex} from '../hex';
import type {Snapshot} from '../snapshot/snapshot';

export function rereadFound(found: Found): Found {
  return {
    ...found,
    escs: found.escs.map((esc) => {
      const page = decodeSettings(esc.settingsPage, variantNamed(esc.identity?.variant));
      return {...esc, settings: page.ok ? page.value : esc.settings};
    }),
  };
}

export function rereadSnapshot<T extends Snapshot>(snapshot: T): T {
  return {
    ...snapshot,
    escs: snapshot.escs.map((esc) => {
      const page = decodeSettings(bytesOfHex(esc.page), variantHolding(esc.values));
      return page.ok ? {...esc, values: {...page.value.values}} : esc;
    }),
  };
}
