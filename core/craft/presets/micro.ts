/** Ducted micros for indoors. Reasons cite common practice of the trade where nothing is published. */
import {calibrated, outputs, same, type Preset} from './preset';

export const micro: Preset = {
  id: 'micro',
  name: 'Indoor micro',
  about: 'Ducted quads of 65 to 85 mm on one cell, 8-bit ESCs on the flight controller’s own board.',
  airframe: 'quad X',
  diagonalMm: 76,
  craft: {
    kind: 'indoor micro quad',
    props: 'in',
    propeller: {diameterInch: 1.6, pitchInch: 1.2, blades: 4},
    motor: {size: '1002', kv: 14000, poles: 12, resistanceOhm: 0.21, inductanceH: 7e-6},
    battery: {cells: 1, capacityMah: 450},
    weightG: 31,
    escBoard: 'Chalk 5',
    controllerBoard: 'Chalk 5',
    plan: {
      firmware: {family: 'Cadence', version: '2.1', pwmKhz: 48},
      parameters: {
        timing: same(22.5),
        activeBraking: same(1),
        demag: same(1),
        startLow: same(1075),
        startHigh: same(1150),
        lowSpeedLimit: same(5),
        throttleMin: calibrated,
        throttleMax: calibrated,
        toneLoudness: same(200),
        lostToneLoudness: same(200),
        lostToneWait: same(2),
        temperatureLimit: same(100),
      },
      controller: {
        protocol: 'dshot300',
        replies: true,
        poles: 12,
        loopHz: 2000,
        arms: outputs(4),
        notchHarmonics: [1, 2],
        notchQ: 4,
        // Lowest notch at 80 to 100 Hz, and one narrow moving notch beside those that follow the motors: common practice.
        notchMinHz: 90,
        movingNotches: 1,
        movingQ: 8,
        gyroLowPassHz: 300,
        idlePercent: 6,
      },
    },
  },
  reasons: {
    startLow: 'Light rotors and stiff ducts: 25 to 50 µs over the default keeps them from stuttering.',
    startHigh: 'Raised together with the lowest power, so that the span between them stays.',
    lowSpeedLimit: '5 protects windings of a few turns when a leaf stops the propeller.',
    timing: 'Motors of few turns and many revolutions: 22.5° or more keeps them in step (common practice).',
    toneLoudness: 'Motors this small are quiet: about 200 of 255 is typical.',
  },
};
