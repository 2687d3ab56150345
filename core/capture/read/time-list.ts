/// <reference lib="es2024.arraybuffer" />
/**
 * A growing list of times. They are gathered in a block; full blocks go to a buffer that grows in place, and that gives its
 * memory back the moment it is taken: what is there is held once, not twice until the next garbage collection.
 */
const blockLength = 1 << 16;
const timeBytes = Float64Array.BYTES_PER_ELEMENT;
/** The buffer may first grow to so many bytes; then to four times as many. */
const firstReserve = 64 * blockLength * timeBytes;

/** What every empty list is: most wires of a wide file never change. */
const none = new Float64Array(0);

export class TimeList {
  private kept: ArrayBuffer | undefined;
  private block = none;
  private used = 0;

  get length(): number {
    return (this.kept?.byteLength ?? 0) / timeBytes + this.used;
  }

  push(time: number): void {
    if (this.used === this.block.length) this.grow();
    this.block[this.used++] = time;
  }

  /** Everything as one array; the list is empty afterwards. */
  take(): Float64Array {
    if (!this.length) return none;
    const all = new Float64Array(this.length);
    const {kept} = this;
    if (kept) all.set(new Float64Array(kept));
    all.set(this.block.subarray(0, this.used), this.length - this.used);
    kept?.resize(0);
    [this.kept, this.used] = [undefined, 0];
    return all;
  }

  private grow(): void {
    if (this.block.length === blockLength) {
      this.keepBlock();
      return;
    }
    const longer = new Float64Array(Math.min(blockLength, Math.max(16, this.block.length * 4)));
    longer.set(this.block);
    this.block = longer;
  }

  private keepBlock(): void {
    const from = this.kept?.byteLength ?? 0;
    const kept = this.withRoom(from + this.block.byteLength);
    kept.resize(from + this.block.byteLength);
    new Float64Array(kept, from).set(this.block);
    [this.kept, this.used] = [kept, 0];
  }

  /** The buffer, moved to one that may grow to `bytes` where it may not. */
  private withRoom(bytes: number): ArrayBuffer {
    const {kept} = this;
    if (kept && bytes <= kept.maxByteLength) return kept;
    const roomier = new ArrayBuffer(0, {maxByteLength: kept ? 4 * kept.maxByteLength : firstReserve});
    if (!kept) return roomier;
    roomier.resize(kept.byteLength);
    new Float64Array(roomier).set(new Float64Array(kept));
    kept.resize(0);
    return roomier;
  }
}
