/** Where the power of a motor and its bridge goes. All results in W unless a name says otherwise. */
import {rippleAmps} from './motor';

interface RunningPoint {
  /** Supply of the bridge, V. */
  readonly volts: number;
  /** Duty that reaches the winding, 0…1. */
  readonly duty: number;
  /** Mean motor current, A. */
  readonly amps: number;
  readonly pwmHz: number;
  readonly deadTimeS: number;
  readonly resistanceOhm: number;
  readonly inductanceH: number;
}

export interface Losses {
  /** Mean current through winding and bridge: I²·R. */
  readonly copper: number;
  /** Ripple through winding and laminations. */
  readonly ripple: number;
  /** Edges of the bridge: V·I·t·f. */
  readonly switching: number;
  /** Current through body diodes while both switches are open: V_F·I·2·t_dead·f. */
  readonly deadTime: number;
}

/** Time one edge pair takes, s: of the order of small MOSFETs with their drivers. */
const edgeS = 40e-9;
/** Forward voltage of a body diode, V. */
const diodeVolts = 0.8;
/**
 * Loss tangent of a winding on thin laminations at tens of kHz: the ripple sees a resistance of 2π·f·L·tan δ beside R,
 * since eddy currents in the iron take their share. Our figure; good to the factor.
 */
export const lossTangent = {value: 0.3, factor: 1.5};

/** RMS of a triangle of peak-to-peak ΔI is ΔI/√12 (any power-electronics text). */
export function lossesAt(p: RunningPoint, tangent = lossTangent.value): Losses {
  const peakToPeak = rippleAmps(p.volts, p.duty, p.inductanceH, p.pwmHz);
  const rippleOhm = p.resistanceOhm + 2 * Math.PI * p.pwmHz * p.inductanceH * tangent;
  return {
    copper: p.amps ** 2 * p.resistanceOhm,
    ripple: (peakToPeak ** 2 / 12) * rippleOhm,
    switching: p.volts * p.amps * edgeS * p.pwmHz,
    deadTime: diodeVolts * p.amps * 2 * p.deadTimeS * p.pwmHz,
  };
}

/** What heats the bridge and not the motor. */
export const bridgeHeat = ({switching, deadTime}: Losses): number => switching + deadTime;
export const totalLoss = ({copper, ripple, switching, deadTime}: Losses): number =>
  copper + ripple + switching + deadTime;
