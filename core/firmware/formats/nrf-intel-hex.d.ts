declare module 'nrf-intel-hex' {
  export default class MemoryMap extends Map<number, Uint8Array> {
    static fromHex(text: string): MemoryMap;
    join(): MemoryMap;
    asHexString(): string;
  }
}
