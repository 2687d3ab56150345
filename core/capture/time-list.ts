/** A growing list of times in blocks, so that what is there is never copied while it grows. */
const blockLength = 1 << 16;

/** What every empty list is: most wires of a wide file never change. */
const none = new Float64Array(0);

export class TimeList {
  private readonly full: Float64Array[] = [];
  private last = none;
  private used = 0;

  get length(): number {
    return this.full.length * blockLength + this.used;
  }

  push(time: number): void {
    if (this.used === this.last.length) this.grow();
    this.last[this.used++] = time;
  }

  /** Everything as one array; the list is empty afterwards. */
  take(): Float64Array {
    if (!this.length) return none;
    const all = new Float64Array(this.length);
    this.full.forEach((block, i) => all.set(block, i * blockLength));
    all.set(this.last.subarray(0, this.used), this.full.length * blockLength);
    this.full.length = this.used = 0;
    return all;
  }

  private grow(): void {
    if (this.last.length === blockLength) {
      this.full.push(this.last);
      this.last = new Float64Array(blockLength);
      this.used = 0;
      return;
    }
    const longer = new Float64Array(Math.min(blockLength, Math.max(16, this.last.length * 4)));
    longer.set(this.last);
    this.last = longer;
  }
}
