/** Pulses by a generator in another language (core/fixtures/make-pulses.py): kind and polarity, at loops that leave no long pause. */
import {readFileSync} from 'node:fs';
import {gunzipSync} from 'node:zlib';
import {expect, it} from 'vitest';
import {decodeWire} from './decode-wire';

interface MadeWire {
  readonly protocol: string;
  readonly loopHz: number;
  readonly course: string;
  readonly inverted: boolean;
  readonly first: 0 | 1;
  readonly edgesUs: readonly number[];
  readonly toUs: number;
}
const bytes = readFileSync(new URL('../../fixtures/pulses.json.gz', import.meta.url));
const wires = JSON.parse(gunzipSync(bytes).toString('utf8')) as readonly MadeWire[];

it.each(wires)(
  '$protocol at $loopHz Hz, $course, inverted: $inverted',
  ({first, edgesUs, toUs, protocol, inverted}) => {
    const edges = Float64Array.from(edgesUs, (us) => us * 1e-6);
    const unknown = new Float64Array(0);
    const decode = (from: number) =>
      decodeWire(
        {name: 'm', first: (from % 2 ? 1 - first : first) as 0 | 1, edges: edges.slice(from), unknown},
        {
          from: 0,
          to: toUs * 1e-6,
        },
      );
    expect(decode(0)).toMatchObject({protocol, inverted});
    // Begun in the middle of a pulse.
    expect(decode(1)).toMatchObject({protocol, inverted});
  },
);
