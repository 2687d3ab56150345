/** SLIP framing (RFC 1055): END 0xC0 closes a frame, ESC 0xDB hides END and itself inside. */
const END = 0xc0;
/** The byte that every frame begins and ends with. */
export const slipEnd = END;
const ESC = 0xdb;
const ESC_END = 0xdc;
const ESC_ESC = 0xdd;

/** Longest frame a decoder keeps; more than any message needs, so noise cannot eat memory. */
export const longestFrame = 4096;

/** Fresh frame with an END on both sides: the first one flushes noise at the receiver. */
export function slipEncode(body: Uint8Array): Uint8Array {
  const out = [END];
  for (const byte of body) {
    if (byte === END) out.push(ESC, ESC_END);
    else if (byte === ESC) out.push(ESC, ESC_ESC);
    else out.push(byte);
  }
  out.push(END);
  return Uint8Array.from(out);
}

/** Turns a byte stream into frames; survives any byte. */
export class SlipDecoder {
  private frame: number[] = [];
  private escaped = false;
  private broken = false;
  /** Frames dropped for a wrong escape or their length. */
  dropped = 0;

  /** Takes bytes as they come and returns the frames they complete, each a fresh copy. */
  push(bytes: Uint8Array): Uint8Array[] {
    const frames: Uint8Array[] = [];
    for (const byte of bytes) {
      if (byte === END) {
        if (this.broken || this.escaped) this.dropped++;
        else if (this.frame.length) frames.push(Uint8Array.from(this.frame));
        this.frame = [];
        this.escaped = this.broken = false;
      } else if (this.escaped) {
        this.escaped = false;
        if (byte === ESC_END) this.frame.push(END);
        else if (byte === ESC_ESC) this.frame.push(ESC);
        else this.broken = true;
      } else if (byte === ESC) this.escaped = true;
      else if (this.frame.length >= longestFrame) this.broken = true;
      else this.frame.push(byte);
    }
    return frames;
  }
}
