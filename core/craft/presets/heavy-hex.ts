/** Heavy hexacopters with single ESCs. Reasons cite common practice of the trade where nothing is published. */
import {calibrated, outputs, same, type Preset} from './preset';

export const heavyHex: Preset = {
  id: 'heavy-hex',
  name: 'Heavy hexacopter',
  about: 'Six arms with single ESCs, reached one at a time over their signal wires.',
  airframe: 'hex X',
  diagonalMm: 320,
  craft: {
    kind: '7-inch hexacopter',
    props: 'out',
    propeller: {diameterInch: 7, pitchInch: 4, blades: 2},
    motor: {size: '2808', kv: 1300, poles: 14, resistanceOhm: 0.058, inductanceH: 21e-6},
    battery: {cells: 6, capacityMah: 3000},
    weightG: 1680,
    escBoard: 'Basalt 30',
    controllerBoard: 'Slate C',
    plan: {
      firmware: {family: 'Meridian', version: '4.2'},
      parameters: {
        timing: same(22.5),
        pwm: same(24),
        activeBraking: same(1),
        brakeStrength: same(50),
        demag: same(2),
        startLow: same(1070),
        startHigh: same(1160),
        lowSpeedLimit: same(9),
        throttleMin: calibrated,
        throttleMax: calibrated,
        toneLoudness: same(120),
        lostToneLoudness: same(140),
        lostToneWait: same(2),
        temperatureLimit: same(100),
        melody: same(0),
      },
      controller: {
        // Its firmware answers on single ESCs as well.
        protocol: 'dshot300',
        replies: true,
        poles: 14,
        loopHz: 2000,
        arms: outputs(6),
        notchHarmonics: [1, 2, 3],
        notchQ: 5,
        notchMinHz: 80,
        movingNotches: 1,
        gyroLowPassHz: 200,
        idlePercent: 5,
      },
    },
  },
  reasons: {
    throttleMin: 'Single ESCs come calibrated by hand: each keeps its own end points.',
    brakeStrength: 'Six large propellers push much current back into the battery: half strength is enough.',
  },
};
