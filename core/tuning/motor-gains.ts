/** What following notches do to every moment of a flight, kept by Q and multiple of speed: banks of notches share them. */
import {binAngles, type BinAngles} from './attenuation';
import {motorGain} from './behind-notches';
import type {FilterChain} from '../filters/chain';
import type {FlightModel} from './flight-model';

export class MotorGains {
  private readonly angles: BinAngles;
  private readonly known = new Map<string, readonly Float64Array[]>();

  /** For chains that differ in orders and Q of their following notches only. */
  constructor(
    private readonly model: FlightModel,
    private readonly rateHz: number,
  ) {
    this.angles = binAngles(model, rateHz);
  }

  /** |H|² over the bins of a moment; a fresh array. */
  of(chain: FilterChain, moment: number): Float64Array {
    const gain = new Float64Array(this.model.bins).fill(1);
    for (const notch of chain.motor.orders) {
      const one = this.ofOrder(chain, notch)[moment]!;
      for (let k = 0; k < gain.length; k++) gain[k]! *= one[k]!;
    }
    return gain;
  }

  private ofOrder(chain: FilterChain, notch: FilterChain['motor']['orders'][number]): readonly Float64Array[] {
    const key = `${chain.motor.q} ${notch.order} ${notch.weight}`;
    const known = this.known.get(key);
    if (known) return known;
    const {model, angles, rateHz} = this;
    const work = {model, angles, rateHz, chain: {...chain, motor: {...chain.motor, orders: [notch]}}};
    const gains = model.moments.map((moment) => motorGain(moment, work));
    this.known.set(key, gains);
    return gains;
  }
}
