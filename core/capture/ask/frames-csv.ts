/** Every frame of a wire as a table that other programs read (RFC 4180). */
import type {DecodedWire} from '../decode/decode-wire';
import {frameAt, frameCount} from '../decode/frames';
import {meaningOf, speedOf} from './figures';

const head = 'time_s,frame,command,value,telemetry,ok,period_us,erpm,rpm,meaning';

/** In pieces, so that a long one need not be one text. */
export function* framesCsv(wire: DecodedWire, poles: number | undefined): Generator<string> {
  yield `${head}\n`;
  let piece = '';
  for (let row = 0; row < frameCount(wire); row++) {
    piece += `${line(wire, row, poles)}\n`;
    if (piece.length < 1 << 16) continue;
    yield piece;
    piece = '';
  }
  if (piece) yield piece;
}

function line(wire: DecodedWire, row: number, poles: number | undefined): string {
  const frame = frameAt(wire, row, poles);
  const {value, telemetry} = wire.commands[frame.command]!;
  const speed = frame.kind === 'reply' ? speedOf(meaningOf(wire, frame.command), poles) : undefined;
  const isMissing = frame.kind === 'reply' && wire.replies[frame.command]!.t === null;
  const cells = [
    isMissing ? '' : frame.from.toFixed(9),
    ...[frame.kind, frame.command],
    ...(frame.kind === 'command' ? [value ?? '', telemetry === null ? '' : Number(telemetry)] : ['', '']),
    Number(frame.ok),
    ...[speed?.periodUs ?? '', speed ? speed.erpm.toFixed(1) : '', speed?.rpm?.toFixed(1) ?? ''],
    /[",]/.test(frame.text) ? `"${frame.text.replace(/"/g, '""')}"` : frame.text,
  ];
  return cells.join(',');
}
