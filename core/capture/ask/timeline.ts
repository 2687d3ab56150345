/** What a timeline shows between two moments: the levels of each wire, and its frames as far as they can be told apart. */
import type {Wire} from '../read/capture';
import type {DecodedWire} from '../decode/decode-wire';
import {faultyRows, firstCommandFrom, frameAt, type Frame} from '../decode/frames';
import {firstWhere} from './first-where';
import {levelColumns} from '../read/level-columns';

interface TimelineQuestion {
  readonly from: number;
  readonly to: number;
  readonly columns: number;
  readonly poles: number | undefined;
}

export interface TimelineWire {
  readonly levels: Uint8Array;
  /** None where there are too many to be drawn. */
  readonly frames: readonly Frame[];
  /** Columns in which a frame is faulty. */
  readonly faults: Uint16Array;
}

/** A frame needs so many columns to be more than a mark. */
const columnsPerFrame = 12;

/** @param faulty rows of the wire as {@link faultyRows} gives them. */
export function timelineWire(
  wire: Wire,
  decoded: DecodedWire,
  {question, faulty}: {readonly question: TimelineQuestion; readonly faulty: ReturnType<typeof faultyRows>},
): TimelineWire {
  const {from, to, columns, poles} = question;
  const {commands} = decoded;
  const step = decoded.bidirectional ? 2 : 1;
  const [first, last] = [Math.max(0, firstCommandFrom(commands, from) - 1), firstCommandFrom(commands, to)];
  const frames: Frame[] = [];
  if ((last - first) * columnsPerFrame <= columns)
    for (let row = first * step; row < last * step; row++) {
      const frame = frameAt(decoded, row, poles);
      if (frame.to >= from) frames.push(frame);
    }
  return {
    levels: levelColumns(wire, {from, to, columns}),
    frames,
    faults: faultColumns(decoded, {first, last, step, faulty}, question),
  };
}

function faultColumns(
  {commands, replies}: DecodedWire,
  {first, last, step, faulty}: {first: number; last: number; step: number; faulty: Uint32Array},
  {from, to, columns}: TimelineQuestion,
): Uint16Array {
  const marked = new Set<number>();
  for (
    let i = firstWhere(0, faulty.length, (k) => faulty[k]! >= first * step);
    i < faulty.length && faulty[i]! < last * step;
    i++
  ) {
    const row = faulty[i]!;
    const command = Math.floor(row / step);
    const isReply = step === 2 && row % 2 === 1;
    const t = (isReply ? replies[command]!.t : null) ?? commands[command]!.t;
    const column = Math.floor(((t - from) / (to - from)) * columns);
    if (column >= 0 && column < columns) marked.add(column);
  }
  return Uint16Array.from(marked);
}
