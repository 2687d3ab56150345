/** Why a bench does not answer, by what its port itself shows: the likely causes, each with what to try. */

import {spokenVersions} from './operations';

/** What is known of a try to connect. */
export interface ConnectEvidence {
  /** Code of the problem that it ended with. */
  readonly code: string;
  /** Bytes that came, and frames of the bench link among them. */
  readonly bytes: number;
  readonly frames: number;
}

/** What the port shows. */
export type PortShows = 'no port' | 'held' | 'silent' | 'something else' | 'another version' | 'went away';

interface HelpLine {
  readonly cause: string;
  readonly try: string;
}

export interface ConnectHelp {
  readonly shows: PortShows;
  readonly title: string;
  readonly lines: readonly HelpLine[];
}

const missing: ReadonlySet<string> = new Set(['port-missing', 'no-port-chosen', 'port-gone']);
const silent: ReadonlySet<string> = new Set(['unanswered', 'link-silent']);

function shownBy({code, bytes, frames}: ConnectEvidence): PortShows | undefined {
  if (code === 'link-version') return 'another version';
  if (code === 'port-held') return 'held';
  if (missing.has(code)) return 'no port';
  if (code === 'cable-out') return 'went away';
  if (bytes > 0 && frames === 0) return 'something else';
  return silent.has(code) ? 'silent' : undefined;
}

/** Undefined where the problem says everything itself. */
export function connectHelp(evidence: ConnectEvidence): ConnectHelp | undefined {
  const shows = shownBy(evidence);
  return shows && {shows, ...help[shows]};
}

const cable: HelpLine = {
  cause: 'The cable carries power only',
  try: 'Take a cable that has carried data before: a lit lamp says nothing about that.',
};
const hub: HelpLine = {
  cause: 'A hub or a front socket',
  try: 'Plug it straight into a socket of the computer, without a hub.',
};
const loader: HelpLine = {
  cause: 'The flight controller is in its own loader',
  try: 'It shows as another device then. Unplug it, and plug it in without holding its button.',
};

const help: Readonly<Record<PortShows, Omit<ConnectHelp, 'shows'>>> = {
  'no port': {
    title: 'No port appeared',
    lines: [
      cable,
      hub,
      loader,
      {
        cause: 'The system does not let this user open it',
        try: 'On Linux the user must be in the group of the port, often dialout; log in again after that.',
      },
      {
        cause: 'A driver is missing',
        try: 'Boards with a converter chip need its driver; those that speak USB themselves need none.',
      },
    ],
  },
  held: {
    title: 'The port is there and is held',
    lines: [
      {cause: 'Another program has it open', try: 'Close every program that talks to the flight controller.'},
      {cause: 'Another tab or a bridge has it', try: 'Close that tab, or stop the bridge in its terminal.'},
      {
        cause: 'A modem service of the system tries it',
        try: 'Some systems open a new port for half a minute: wait, then connect again.',
      },
    ],
  },
  silent: {
    title: 'The port opened and is silent',
    lines: [
      {
        cause: 'Its firmware does not speak the bench link',
        try: 'Update the flight controller, or use a single-wire adapter that does.',
      },
      {cause: 'Its firmware hangs, or a raised clock does not hold', try: 'Start its loader by hand, as drawn below.'},
      loader,
      {cause: 'It is another port of the same board', try: 'Choose the other one: many boards have two.'},
    ],
  },
  'something else': {
    title: 'Something answers, and it is not the bench link',
    lines: [
      {cause: 'It is another device', try: 'Unplug it and see which port goes: that one is the board.'},
      {
        cause: 'Its port is set to another use',
        try: 'A receiver or a video transmitter is wired to that port: choose the one of the USB socket.',
      },
      {cause: 'It runs at another bit rate', try: 'Behind a converter chip use the bridge with --baud.'},
    ],
  },
  'another version': {
    title: 'It speaks another version of the bench link',
    lines: [
      {
        cause: 'One of the two is older',
        try: `This Bidex speaks version ${spokenVersions.join(' and ')}. Where the bench names a higher one, start a newer Bidex; where a lower one, update the adapter.`,
      },
    ],
  },
  'went away': {
    title: 'The port was there and went away',
    lines: [
      {
        cause: 'The cable was pulled, or the hub started again',
        try: 'Plug it in again. A stopped order goes on where it was; motors stopped by themselves.',
      },
      hub,
      {cause: 'USB gave too little power', try: 'Connect the battery first, through the current limiter.'},
      {cause: 'The computer slept', try: 'Wake it, and connect again.'},
    ],
  },
};

/** What a person may say helped, in words for the craft: kept and shown the next time. */
export const helpedBy = [
  'another cable',
  'straight into the computer',
  'closed the other program',
  'the other port of the board',
  'started its loader by the button',
  'other rights or another driver',
] as const;
