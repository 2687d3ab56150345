/**
 * How a craft is connected: one drawn card for each way, with its order of plugging. Lines tick themselves by what the link sees;
 * what nothing can see is a person's. Ground first, and nothing on a middle wire, are common practice of the trade.
 */
import type {Catalogue} from '../../firmware/releases';
import {startSounds} from '../sounds/start-sounds';
import type {Choice} from '../choice';
import type {CraftQuestion} from '../craft-question';

export type WiringKind = 'usb' | 'adapter' | 'pads';

interface WiringLine {
  readonly text: string;
  readonly why: string;
  /** "yours": nothing sees it. */
  readonly state: 'seen' | 'next' | 'open' | 'yours';
}

interface DrawnPart {
  readonly name: string;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

interface DrawnWire {
  readonly kind: 'usb' | 'ground' | 'signal' | 'free' | 'power';
  readonly from: readonly [number, number];
  readonly to: readonly [number, number];
  readonly name: string;
  /** Where the name stands. */
  readonly at: readonly [number, number];
}

interface ShownSign {
  readonly shows: string;
  readonly means: string;
}

interface WiringSheet {
  readonly kinds: Choice<WiringKind>[];
  readonly kind: WiringKind;
  readonly parts: readonly DrawnPart[];
  readonly wires: readonly DrawnWire[];
  /** The drawing in words. */
  readonly spoken: string;
  readonly lines: readonly WiringLine[];
  /**
   * What lights and tones of this hardware mean, and how its firmware is set by stick and tones without a computer, as far as
   * the catalogue says it; by what each is of.
   */
  readonly signs: readonly {readonly of: string; readonly lines: readonly ShownSign[]}[];
}

interface LineOf {
  readonly text: string;
  readonly why: string;
  readonly isSeen?: (q: CraftQuestion) => boolean;
}

export function wiringSheet(q: CraftQuestion, picked: WiringKind | undefined, catalogue?: Catalogue): WiringSheet {
  const kind = picked ?? usualKind(q);
  return {
    kinds: kinds.filter(({value}) => value !== 'usb' || !q.craft.loose),
    kind,
    ...drawings[kind],
    lines: statesOf(linesOf[kind], q),
    signs: signsOf(q, kind, catalogue),
  };
}

const kinds: readonly Choice<WiringKind>[] = [
  {value: 'usb', label: 'Flight controller over USB'},
  {value: 'adapter', label: 'Single-wire adapter on the lead of an ESC'},
  {value: 'pads', label: 'Single-wire adapter on pads'},
];

const usualKind = ({craft, bench, record}: CraftQuestion): WiringKind =>
  craft.loose || bench.isOnAdapter || record.found?.road === 'single-wire' ? 'adapter' : 'usb';

/** What comes before the last line that is seen was done by a hand, or the link would not see it. */
function statesOf(lines: readonly LineOf[], q: CraftQuestion): WiringLine[] {
  const seen = lines.map(({isSeen}) => isSeen?.(q) ?? false);
  const last = seen.lastIndexOf(true);
  return lines.map(({text, why, isSeen}, i) => {
    const state = seen[i] ? 'seen' : i === last + 1 ? 'next' : isSeen ? 'open' : 'yours';
    return {text, why, state};
  });
}

const isOnRoad =
  (isAdapter: boolean) =>
  ({bench}: CraftQuestion): boolean =>
    bench.isConnected && bench.isOnAdapter === isAdapter;
const hasAnswered = ({bench, record}: CraftQuestion): boolean =>
  bench.isConnected &&
  record.found !== undefined &&
  record.found.escs.length > 0 &&
  record.found.power.cycles === bench.cycles;

const propellers: LineOf = {
  text: 'Take the propellers off',
  why: 'An ESC that starts again may turn its motor.',
  isSeen: ({bench}) => bench.isPropsOff,
};
const limiter: LineOf = {
  text: 'Put a current limiter between pack and craft',
  why: 'The first time, and after every repair: a short then costs a lamp, not a board.',
};
const battery = (isAdapter: boolean): LineOf => ({
  text: 'Connect the battery',
  why: 'USB does not power the ESCs.',
  isSeen: (q) => isOnRoad(isAdapter)(q) && q.bench.isPowered,
});
const batteryOff: LineOf = {text: 'Battery off', why: 'Nothing is plugged or clipped while the motors have power.'};

const onWire = (ground: LineOf, signal: LineOf): readonly LineOf[] => [
  batteryOff,
  {text: 'Adapter into the computer', why: 'Straight, without a hub.', isSeen: isOnRoad(true)},
  ground,
  signal,
  limiter,
  battery(true),
  {text: 'Read the ESC', why: 'It says who it is; nothing is written.', isSeen: hasAnswered},
  {text: 'Battery off before the clip moves on', why: 'A clip that slips on a live ESC can end it.'},
];

const linesOf: Readonly<Record<WiringKind, readonly LineOf[]>> = {
  usb: [
    propellers,
    batteryOff,
    {
      text: 'USB into the flight controller, its button left alone',
      why: 'Held while plugging, the button starts its loader, and no firmware runs.',
      isSeen: (q) => isOnRoad(false)(q) && !q.record.found?.loader,
    },
    limiter,
    battery(false),
    {
      text: 'Every ESC answers',
      why: 'The survey asks all of them at once.',
      isSeen: (q) => hasAnswered(q) && q.record.found!.escs.length === q.craft.arms.length,
    },
  ],
  adapter: onWire(
    {
      text: 'Ground first: the dark wire of the lead to ground of the adapter',
      why: 'Without it the signal finds its way back through something else.',
    },
    {
      text: 'Then the signal wire. The middle wire stays free',
      why: 'It may carry 5 V out of the ESC: on the adapter it belongs nowhere.',
    },
  ),
  pads: onWire(
    {
      text: 'Ground first: pad G, or the minus of the battery lead',
      why: 'Without it the signal finds its way back through something else.',
    },
    {
      text: 'Then pad S of that motor, and no other pad',
      why: 'Pads beside it carry the pack’s voltage or a supply: one slip ends the chip.',
    },
  ),
};

const part = (name: string, [x, y]: readonly [number, number], width: number): DrawnPart => ({
  ...{name, x, y, width, height: 52},
});
const supply = [part('pack', [196, 8], 132), part('current limiter', [404, 8], 148)];
const supplyWires: readonly DrawnWire[] = [
  {kind: 'power', from: [328, 34], to: [404, 34], name: 'power', at: [366, 26]},
  {kind: 'power', from: [478, 60], to: [478, 104], name: 'power', at: [500, 86]},
];
const usb = (name: string): DrawnWire => ({
  ...{kind: 'usb', from: [124, 130], to: [196, 130], at: [160, 122]},
  name,
});

const onAdapter = (esc: string, ground: string, signal: string): Pick<WiringSheet, 'parts' | 'wires' | 'spoken'> => ({
  parts: [...supply, part('computer', [8, 104], 116), part('adapter', [196, 104], 132), part(esc, [404, 104], 148)],
  wires: [
    ...supplyWires,
    usb('USB'),
    {kind: 'ground', from: [328, 114], to: [404, 114], name: ground, at: [366, 109]},
    {kind: 'signal', from: [328, 146], to: [404, 146], name: signal, at: [366, 168]},
    ...(esc === 'ESC'
      ? [
          {
            kind: 'free' as const,
            from: [380, 130] as const,
            to: [404, 130] as const,
            name: 'free',
            at: [362, 134] as const,
          },
        ]
      : []),
  ],
  spoken: `Computer to adapter by USB; adapter to ${esc}: ${ground}, then ${signal}; pack through a current limiter to the ${esc}.`,
});

const drawings: Readonly<Record<WiringKind, Pick<WiringSheet, 'parts' | 'wires' | 'spoken'>>> = {
  usb: {
    parts: [
      ...supply,
      part('computer', [8, 104], 116),
      part('flight controller', [196, 104], 132),
      part('ESCs', [404, 104], 148),
    ],
    wires: [
      ...supplyWires,
      usb('USB'),
      {kind: 'signal', from: [328, 130], to: [404, 130], name: 'as built', at: [366, 122]},
    ],
    spoken:
      'Computer to flight controller by USB; pack through a current limiter to the ESCs, which are wired as built.',
  },
  adapter: onAdapter('ESC', '1 ground', '2 signal'),
  pads: onAdapter('pads of the ESC', '1 G', '2 S'),
};

function signsOf(q: CraftQuestion, kind: WiringKind, catalogue: Catalogue | undefined): WiringSheet['signs'] {
  const escBoard = q.record.found?.escs[0]?.hardware?.board ?? q.craft.escBoard;
  const esc = catalogue?.boards.find((b) => b.name === escBoard);
  const controller = catalogue?.controllers?.boards.find((b) => b.name === q.craft.controllerBoard);
  const sounds = startSounds(q).map(({of, text}) => ({shows: of, means: text}));
  return [
    ...(kind === 'usb' && controller?.lights ? [{of: controller.name, lines: controller.lights}] : []),
    ...(esc?.lights ? [{of: esc.name, lines: esc.lights}] : []),
    ...(sounds.length ? [{of: 'Tones after power-up', lines: sounds}] : []),
    ...byStickOf(q),
  ];
}

function byStickOf({record, releases}: CraftQuestion): WiringSheet['signs'] {
  const identity = record.found?.escs.find((esc) => esc.identity)?.identity;
  const release =
    identity && releases?.find((r) => r.family === identity.family && r.version === identity.version && r.byStick);
  if (!release?.byStick) return [];
  const lines = release.byStick.map(({hand, heard}) => ({shows: hand, means: heard}));
  return [{of: `${release.family} ${release.version} by stick and tones, without a computer`, lines}];
}

/** What a line's state is called. */
export const wiringSigns: Readonly<Record<WiringLine['state'], string>> = {
  ...{seen: '✓ seen', next: 'next', open: 'open', yours: 'by you'},
};
