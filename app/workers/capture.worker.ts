/** Holds an opened capture: reads the file piece by piece, decodes every wire, and answers what a view asks of it. */
import * as Comlink from 'comlink';
import {bitLengths, type Histogram} from '@core/capture/decode/bit-lengths';
import type {Capture, CaptureFault, CaptureReader, Wire} from '@core/capture/read/capture';
import {commandRhythm, type CommandRhythm} from '@core/capture/decode/command-rhythm';
import {decodeWire, type DecodedWire} from '@core/capture/decode/decode-wire';
import {lossOf, type LossFigures} from '@core/capture/ask/figures';
import {carriedText, faultyRows, frameAt, frameCount, type Frame} from '@core/capture/decode/frames';
import {framesCsv} from '@core/capture/ask/frames-csv';
import {readerFor} from '@core/capture/read/read-capture';
import {speedSeries, type SpeedSeries} from '@core/capture/ask/speed-series';
import {timelineWire, type TimelineWire} from '@core/capture/ask/timeline';
import {writeVcd} from '@core/capture/read/write-vcd';
import {captureFindings} from '@core/compare/capture-findings';
import type {SignalFinding} from '@core/compare/signal-findings';
import {failure, success, type Problem, type Result} from '@core/problem';
import {piecesOf} from './log-pieces';

/** How frames are read: poles make speeds of periods, and an ESC may have been told to tell more before the capture began. */
export interface CaptureReading {
  readonly poles: number | undefined;
  readonly extended: boolean;
}

export interface WireSummary {
  readonly name: string;
  /** Other names of the same wire. */
  readonly also: readonly string[];
  readonly edges: number;
  readonly carries: string;
  readonly protocol: DecodedWire['protocol'];
  readonly bidirectional: boolean;
  readonly commands: number;
  readonly loss: LossFigures;
  readonly faults: number;
  readonly glitches: number;
  readonly bitRateErrorPercent: number | undefined;
  readonly bitUs: number | undefined;
  readonly jitterNs: number | undefined;
  readonly turnaroundUs: number | undefined;
}

export interface CaptureSummary {
  readonly name: string;
  readonly from: number;
  readonly to: number;
  readonly wires: readonly WireSummary[];
  readonly faults: readonly CaptureFault[];
  readonly faultCount: number;
}

export interface WireDetail {
  readonly rhythm: CommandRhythm | undefined;
  readonly lengths: Histogram | undefined;
  readonly speeds: SpeedSeries;
  readonly findings: readonly SignalFinding[];
  readonly rows: number;
}

interface Open {
  readonly capture: Capture;
  readonly decoded: readonly DecodedWire[];
  readonly faulty: readonly Uint32Array[];
  /** Wires whose ESC tells more than speeds from the begin on. */
  readonly telling: DecodedWire[];
}
let open: Open | undefined;

/** A wire as it is to be read; the other form of each is made once. */
function wireOf(wire: number, {extended}: CaptureReading): DecodedWire {
  const {decoded, telling} = open!;
  const plain = decoded[wire]!;
  return extended ? (telling[wire] ??= {...plain, extended: plain.extended.map(() => true)}) : plain;
}

const captureWorker = {
  /** Opens a file in place of the one before; the share done goes to 1 with the last wire. */
  async open(file: Blob, name: string, onProgress: (share: number) => void): Promise<Result<CaptureSummary>> {
    open = undefined;
    const pieces = await piecesOf(file);
    if ('code' in pieces) return failure(pieces);
    let reader: CaptureReader | undefined;
    let read = 0;
    for await (const piece of pieces.stream) {
      reader ??= readerFor(piece);
      reader.push(piece);
      read += piece.length;
      onProgress(Math.min(readingShare, (readingShare * read) / Math.max(1, pieces.sizeBytes)));
    }
    const capture = (reader ?? readerFor(new Uint8Array(0))).end();
    if (!capture.wires.length) return failure(noWires(name, capture.faults[0]));
    const decoded: DecodedWire[] = [];
    for (const wire of capture.wires) {
      decoded.push(decodeWire(wire, capture));
      onProgress(readingShare + ((1 - readingShare) * decoded.length) / capture.wires.length);
    }
    open = {capture, decoded, faulty: decoded.map(faultyRows), telling: []};
    return success(summaryOf(open, name));
  },

  /** Wires as a value change dump. */
  dump: (wires: readonly Wire[], to: number): Blob => new Blob([writeVcd(wires, to)], {type: 'text/plain'}),

  detail(wire: number, reading: CaptureReading): WireDetail {
    const decoded = wireOf(wire, reading);
    const rhythm = commandRhythm(decoded);
    return {
      ...{rhythm, lengths: bitLengths(open!.capture.wires[wire]!, decoded), rows: frameCount(decoded)},
      ...{speeds: speedSeries(decoded, reading.poles), findings: captureFindings(decoded, rhythm)},
    };
  },

  /** Frames of a wire from a place in its list on; the list of the faulty ones alone where asked for. */
  frames(
    wire: number,
    {from, count, faulty, reading}: {from: number; count: number; faulty: boolean; reading: CaptureReading},
  ): readonly Frame[] {
    const decoded = wireOf(wire, reading);
    const rows = open!.faulty[wire]!;
    const all = faulty ? rows.length : frameCount(decoded);
    return Array.from({length: Math.max(0, Math.min(count, all - from))}, (_, i) =>
      frameAt(decoded, faulty ? rows[from + i]! : from + i, reading.poles),
    );
  },

  timeline(
    wires: readonly number[],
    question: {readonly from: number; readonly to: number; readonly columns: number; readonly reading: CaptureReading},
  ): readonly TimelineWire[] {
    return wires.map((wire) =>
      timelineWire(open!.capture.wires[wire]!, wireOf(wire, question.reading), {
        question: {...question, poles: question.reading.poles},
        faulty: open!.faulty[wire]!,
      }),
    );
  },

  csv: (wire: number, reading: CaptureReading): Blob =>
    new Blob([...framesCsv(wireOf(wire, reading), reading.poles)], {type: 'text/csv'}),
};
export type CaptureWorker = typeof captureWorker;

/** Reading takes most of the time, decoding the rest. */
const readingShare = 0.8;

function summaryOf({capture, decoded, faulty}: Open, name: string): CaptureSummary {
  const {from, to, faults, faultCount} = capture;
  return {
    ...{name, from, to, faults, faultCount},
    wires: decoded.map((wire, i) => ({
      ...{
        name: wire.name,
        also: capture.wires[i]!.also ?? [],
        edges: capture.wires[i]!.edges.length,
        carries: carriedText(wire),
      },
      ...{protocol: wire.protocol, bidirectional: wire.bidirectional, commands: wire.commands.length},
      ...{loss: lossOf(wire), faults: faulty[i]!.length, glitches: wire.glitches},
      ...{bitRateErrorPercent: wire.rate?.errorPercent, bitUs: wire.rate && wire.rate.bitS * 1e6},
      ...{jitterNs: wire.jitterNs, turnaroundUs: wire.turnaroundUs},
    })),
  };
}

const noWires = (name: string, fault: CaptureFault | undefined): Problem => ({
  code: 'no-wires',
  place: fault ? `${name}, line ${fault.line}` : name,
  meaning: `No wire could be read from it.${fault ? ` ${fault.meaning}` : ' It is empty.'}`,
  remedy: 'Export the capture as a value change dump (VCD), or as CSV with a time and one column for each wire.',
});

Comlink.expose(captureWorker);
