/** PWM frequency against flight time, ripple, heat and torque at low throttle. */
import {beatsWithPwm, commutationRange, fullThrottle} from '../full-throttle';
import {flightBounds, flightMinutes, hoverPoint, lostDuty, type Drive} from '../hover';
import {bridgeHeat, lossesAt} from '../losses';
import {pwmFollows} from '../../settings/parameters/special-values';
import {hoverPwmHz, steps, valueOf, type Effect, type EffectQuestion} from './effect';

export function pwmEffect(question: EffectQuestion): Effect {
  const {craft, deadTimeS} = question;
  const driveAt = (pwmHz: number): Drive => ({pwmHz, deadTimeS});
  const points = steps(16, 112, 16).map((kHz) => {
    const {least, most} = flightBounds(craft, driveAt(kHz * 1000));
    return {x: kHz, y: flightMinutes(craft, driveAt(kHz * 1000)), low: least, high: most};
  });
  return {
    xName: 'PWM frequency, kHz',
    yName: 'flight time, min',
    lines: [{name: 'flight time', points}],
    xStep: 16,
    xOf: (value) => hoverPwmHz(question, value) / 1000,
    figures: (value) => {
      const drive = driveAt(hoverPwmHz(question, value));
      const hover = hoverPoint(craft, drive);
      const {least, most} = flightBounds(craft, drive);
      return [
        {
          name: 'Flight time',
          text: `${flightMinutes(craft, drive).toFixed(1)} min (${least.toFixed(1)} to ${most.toFixed(1)})`,
        },
        {name: 'Efficiency in a hover', text: `${(hover.efficiency * 100).toFixed(0)} %`},
        {name: 'Ripple current in a hover', text: `${hover.rippleAmps.toFixed(1)} A`},
        {name: 'Heat of each bridge in a hover', text: `${hover.bridgeHeatW.toFixed(2)} W`},
        {
          name: 'Heat of each bridge at full throttle',
          text: `${fullThrottleHeat(question, value === pwmFollows ? valueOf(question, 'pwmHigh') : value).toFixed(1)} W`,
        },
        {name: 'Throttle lost to dead time', text: `${(lostDuty(drive) * 100).toFixed(1)} %`},
        {name: 'Commutation', text: commutation(question, drive)},
      ];
    },
    source: 'Ripple V·D(1−D)/(L·f), hover by momentum theory, dead time 2·t·f. Bounds: flying style, propeller, iron.',
  };
}

/**
 * Heat of one bridge just below full throttle, where it switches its highest current, W: edges and body diodes.
 * `pwmKhz` is the frequency there, kHz.
 */
export function fullThrottleHeat({craft, deadTimeS}: EffectQuestion, pwmKhz: number): number {
  const drive: Drive = {pwmHz: pwmKhz * 1000, deadTimeS};
  const {amps, cellVolts} = fullThrottle(craft, drive);
  const {resistanceOhm, inductanceH} = craft.motor;
  return bridgeHeat(
    lossesAt({...drive, ...{resistanceOhm, inductanceH, amps}, volts: cellVolts * craft.battery.cells, duty: 1}),
  );
}

function commutation({craft}: EffectQuestion, drive: Drive): string {
  const [hover, full] = commutationRange(craft, drive);
  const range = `${(hover / 1000).toFixed(0)} to ${(full / 1000).toFixed(0)} kHz`;
  return beatsWithPwm(drive.pwmHz, hover, full) ? `${range}, beats` : `${range}, clear`;
}
