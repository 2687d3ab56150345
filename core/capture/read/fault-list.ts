/** Faults of a file as a reader finds them: all counted, the first of them kept. */
import {maxFaults, type CaptureFault} from './capture';

export class FaultList {
  readonly faults: CaptureFault[] = [];
  faultCount = 0;

  /** @param line counted from 1. */
  add(line: number, meaning: string): void {
    this.faultCount++;
    if (this.faults.length < maxFaults) this.faults.push({line, meaning});
  }
}
