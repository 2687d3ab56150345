/** Messages of the bench link: CBOR (RFC 8949) array [sequence, operation, argument], then CRC-16, in a SLIP frame. */
import {Encoder} from 'cbor-x/index-no-eval';
import * as z from 'zod';
import {crc16} from '../checksums';
import {slipEncode} from './slip';

/** `useRecords: false` and maps as plain objects: what goes out is CBOR any decoder reads. */
const cbor = new Encoder({
  useRecords: false,
  mapsAsObjects: true,
  tagUint8Array: false,
  variableMapSize: true,
});

export const encodeCbor = (value: unknown): Uint8Array => cbor.encode(value);
export const decodeCbor = (bytes: Uint8Array): unknown => cbor.decode(bytes);

const messageSchema = z.tuple([z.number().int().min(0).max(0xffff), z.string().max(40), z.unknown()]);

export interface Message {
  /** 0 for reports, else the number of the request. */
  readonly sequence: number;
  /** Name of a request, or "done", "refused" or "report". */
  readonly operation: string;
  readonly argument: unknown;
}

/** Fresh bytes of one framed message. */
export function encodeMessage({sequence, operation, argument}: Message): Uint8Array {
  const body = encodeCbor([sequence, operation, argument ?? null]);
  const frame = new Uint8Array(body.length + 2);
  frame.set(body);
  const sum = crc16(body);
  frame[body.length] = sum >> 8;
  frame[body.length + 1] = sum & 0xff;
  return slipEncode(frame);
}

type FrameFault = 'bad-crc' | 'bad-cbor' | 'bad-shape';

/** The message in an unframed body, or why there is none. */
export function decodeMessage(frame: Uint8Array): Message | FrameFault {
  if (frame.length < 3) return 'bad-crc';
  const body = frame.subarray(0, -2);
  if (crc16(body) !== ((frame.at(-2)! << 8) | frame.at(-1)!)) return 'bad-crc';
  let value: unknown;
  try {
    value = decodeCbor(body);
  } catch {
    // Any decoder error means the same here: the frame is whole but holds no CBOR.
    return 'bad-cbor';
  }
  const parsed = messageSchema.safeParse(value);
  if (!parsed.success) return 'bad-shape';
  const [sequence, operation, argument] = parsed.data;
  return {sequence, operation, argument};
}
