/** What the shell may do to the stand-in bench beside its cable: mishaps, pace, and looking at it. */
export type BenchPace = 'real' | 'ten' | 'max';

/** What an eye would see of one output. */
export interface TurningOutput {
  readonly turning: boolean;
  readonly clockwise: boolean;
  readonly smoke: boolean;
}

export interface BenchControl {
  plug(port: MessagePort): Promise<void>;
  setPace(pace: BenchPace): Promise<void>;
  state(): Promise<{pace: BenchPace; batteryOn: boolean; burnt: readonly number[]}>;
  setBattery(on: boolean): Promise<void>;
  pullCable(): Promise<void>;
  /** Chance that a byte on the cable is lost, and the same that it is flipped. */
  setCableNoise(share: number): Promise<void>;
  /** Share of replies spoilt on the motor wires. */
  setWireNoise(share: number): Promise<void>;
  /** Fresh copy of an ESC's whole flash. */
  flash(output: number): Promise<Uint8Array>;
  look(): Promise<readonly TurningOutput[]>;
  /** Sets the bench back to its first state. */
  reset(): Promise<void>;
}
