/** Captures of wires, and everything that a view asks of one that reads. */
import {bitLengths} from '@core/capture/decode/bit-lengths';
import {commandRhythm} from '@core/capture/decode/command-rhythm';
import {decodeWire} from '@core/capture/decode/decode-wire';
import {faultyRows} from '@core/capture/decode/frames';
import {framesCsv} from '@core/capture/ask/frames-csv';
import {readerFor} from '@core/capture/read/read-capture';
import {speedSeries} from '@core/capture/ask/speed-series';
import {timelineWire} from '@core/capture/ask/timeline';
import {writeVcd} from '@core/capture/read/write-vcd';
import {captureFindings} from '@core/compare/capture-findings';
import {encodeCommand} from '@core/dshot/command';
import {encodeReply} from '@core/dshot/reply';
import {commandEdges, replyEdges} from '@core/dshot/waveform';
import type {FuzzSubject} from './subject';

const edges = Array.from({length: 12}, (_, i) => {
  const command = commandEdges(encodeCommand({value: 40 + i, telemetryRequest: false}, true), 'dshot300', true);
  return [...command, ...replyEdges(encodeReply(600 + i), 'dshot300')].map(({us}) => (us + i * 250 + 40) * 1e-6);
}).flat();
const wire = {name: 'top.motor', first: 1, edges: Float64Array.from(edges), unknown: new Float64Array(0)} as const;
const encoder = new TextEncoder();
const dump = writeVcd([wire, {...wire, name: 'top.other'}], 0.004);

export const captureSubject: FuzzSubject = {
  seeds: [
    encoder.encode(dump),
    encoder.encode(
      dump.replace(/\$var wire 1 ! motor/, '$var wire 3 ! motor [2:0]').replace(/\n([01])!/g, '\nb0$1x !'),
    ),
    encoder.encode(
      `time_us,a,b\n${edges.map((t, i) => `${(t * 1e6).toFixed(3)},${i % 2},${(i >> 1) % 2}`).join('\n')}\n`,
    ),
  ],
  take: (input) => {
    const reader = readerFor(input);
    // In two pieces, cut anywhere: a capture comes as the disk gives it.
    const cut = input.length >> 1;
    reader.push(input.subarray(0, cut));
    reader.push(input.subarray(cut));
    const capture = reader.end();
    const total = capture.wires.reduce((sum, w) => sum + w.edges.length + w.unknown.length, 0);
    let hasFaults = capture.faultCount > 0;
    for (const one of capture.wires.slice(0, 8)) {
      const decoded = decodeWire(one, capture);
      const faulty = faultyRows(decoded);
      hasFaults ||= faulty.length > 0;
      bitLengths(one, decoded);
      speedSeries(decoded, 14, 10);
      captureFindings(decoded, commandRhythm(decoded));
      [...framesCsv(decoded, undefined)].join('');
      const question = {from: capture.from, to: Math.max(capture.to, capture.from + 1e-9), columns: 100, poles: 14};
      timelineWire(one, decoded, {question, faulty});
    }
    return {isFaulty: hasFaults || capture.wires.length < 2, tooLarge: total > 4096 * Math.max(1, input.length)};
  },
};
