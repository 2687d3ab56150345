/** Start-up power against stutter, and limits against what the craft draws at full throttle. */
import {fullThrottle} from '../full-throttle';
import {stallHeat, startAmps, startMargin} from '../starting';
import {driveOf, steps, valueOf, type Effect, type EffectQuestion} from './effect';

export function startEffect(question: EffectQuestion, from: number, to: number): Effect {
  const at = (powerUs: number) => ({craft: question.craft, powerUs, limitAmps: valueOf(question, 'currentLimit')});
  return {
    xName: 'start-up power, µs',
    yName: 'torque over what starting takes, ×',
    lines: [
      {
        name: 'torque while starting',
        points: steps(from, to, 10).map((x) => {
          const {value, factor} = startMargin(at(x));
          return {x, y: value, low: value / factor, high: value * factor};
        }),
      },
    ],
    xStep: to - from > 200 ? 50 : 25,
    xOf: (value) => value,
    figures: (value) => {
      const margin = startMargin(at(value)).value;
      return [
        {name: 'Torque while starting', text: `${margin.toFixed(1)} ×${margin < 1 ? ', stutters' : ''}`},
        {name: 'Current while starting', text: `${startAmps(at(value)).toFixed(1)} A`},
        {name: 'Heat in a stuck motor', text: `${wattText(stallHeat(at(value)))} W`},
      ];
    },
    source:
      'Start-up power is a share of the supply: I = V·D/R. A blind start must pull the bell with its propeller through 60° in 6 ms; heat in a stuck winding I²·R.',
  };
}

const wattText = (watts: number) => (watts < 10 ? watts.toFixed(1) : watts.toFixed(0));

export function currentLimitEffect(question: EffectQuestion): Effect {
  const {amps, cellVolts} = fullThrottle(question.craft, driveOf(question));
  // Thrust goes with ω² and so does torque, which is what current makes.
  const share = (limit: number, full = amps) => 100 * Math.min(1, limit / full);
  return {
    xName: 'current limit, A',
    yName: 'thrust left at full throttle, %',
    lines: [
      {
        name: 'thrust at full throttle',
        points: steps(10, 100, 18).map((x) => ({
          x,
          y: share(x),
          low: share(x, amps * 1.2),
          high: share(x, amps / 1.2),
        })),
      },
    ],
    xStep: 15,
    xOf: (value) => value,
    figures: (value) => [
      {name: 'Thrust at full throttle', text: `${share(value).toFixed(0)} %`},
      {name: 'Each motor would draw', text: `${amps.toFixed(0)} A`},
      {name: 'The pack sags to', text: `${cellVolts.toFixed(2)} V per cell`},
    ],
    source: 'Steady speed at full duty: K_T·I = friction + drag·ω², pack sagged by its internal resistance.',
  };
}

export function lowVoltageEffect(question: EffectQuestion): Effect {
  const {cellVolts, amps} = fullThrottle(question.craft, driveOf(question));
  return {
    xName: '',
    yName: '',
    lines: [],
    xStep: 1,
    xOf: (value) => value,
    figures: (value) => [
      {name: 'The pack sags at full throttle to', text: `${cellVolts.toFixed(2)} V per cell`},
      {name: 'Each motor draws there', text: `${amps.toFixed(0)} A`},
      {name: 'A full throttle punch', text: value > cellVolts ? 'is cut short' : 'is left alone'},
    ],
    source: 'A cell of 3.7 V, half flown; sag by the internal resistance of the pack.',
  };
}
