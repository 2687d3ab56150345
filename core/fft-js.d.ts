declare module 'fft.js' {
  export default class FFT {
    constructor(size: number);
    /** A plain array of 2 × size: faster here than typed ones. */
    createComplexArray(): number[];
    realTransform(out: number[], data: ArrayLike<number>): void;
    transform(out: number[], data: readonly number[]): void;
    inverseTransform(out: number[], data: readonly number[]): void;
    completeSpectrum(out: number[]): void;
  }
}
