/** Flash memory: erase sets a page to 0xFF, a write only clears bits, lost power leaves the page undefined. */
import type {Chip} from '@core/firmware/chips';
import type {Random} from '../../random';

export class Flash {
  /** Pages that no longer hold what is written to them. */
  readonly worn = new Set<number>();

  constructor(
    private readonly chip: Chip,
    /** Owned by this flash. */
    readonly bytes: Uint8Array,
    private readonly onChange: (page: number) => void,
  ) {
    if (bytes.length !== chip.flashBytes)
      throw new RangeError(`${bytes.length} bytes for a flash of ${chip.flashBytes}`);
  }

  /** Fresh copy. */
  read(address: number, length: number): Uint8Array {
    return this.bytes.slice(address, address + length);
  }

  view(start: number, end: number): Uint8Array {
    return this.bytes.subarray(start, end);
  }

  erase(address: number): void {
    const page = Math.floor(address / this.chip.pageBytes);
    this.bytes.fill(0xff, page * this.chip.pageBytes, (page + 1) * this.chip.pageBytes);
    this.onChange(page);
  }

  write(address: number, data: Uint8Array): void {
    data.forEach((value, i) => {
      const worn = this.worn.has(Math.floor((address + i) / this.chip.pageBytes));
      // Worn cells stay discharged: they read 0 whatever is written.
      this.bytes[address + i]! &= worn && i === 0 ? 0 : value;
    });
    this.touch(address, data.length);
  }

  /** What an erase or a write leaves behind when power goes in the middle of it. */
  scramble(address: number, length: number, random: Random): void {
    this.bytes.set(random.bytes(length), address);
    this.touch(address, length);
  }

  private touch(address: number, length: number): void {
    const {pageBytes} = this.chip;
    for (let page = Math.floor(address / pageBytes); page * pageBytes < address + length; page++) this.onChange(page);
  }
}
