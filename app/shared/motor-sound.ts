/** How a run sounded: each motor's speed as a pitch, over the time it took; where it stands or loses step it breaks off. */
import type {SpinTrace} from '@core/motion/trace';

/** A motor is heard at this multiple of its turns; lower ones are below hearing on small speakers. */
const harmonic = 7;
const every = 0.01;

/** Plays a trace with Web Audio; resolves when it has ended. */
export async function playMotors({timeS, motors}: SpinTrace, outputs: readonly number[]): Promise<void> {
  const audio = new AudioContext();
  const begin = audio.currentTime + 0.05;
  const lasts = timeS.at(-1) ?? 0;
  for (const output of outputs) {
    const rpm = motors[output]?.rpm;
    if (!rpm) continue;
    const oscillator = new OscillatorNode(audio, {type: 'sawtooth'});
    const gain = new GainNode(audio, {gain: 0});
    oscillator.connect(gain).connect(audio.destination);
    let row = 0;
    for (let at = 0; at <= lasts; at += every) {
      while (row + 1 < timeS.length && timeS[row]! < at) row++;
      const hz = (Math.max(0, rpm[row] || 0) / 60) * harmonic;
      oscillator.frequency.linearRampToValueAtTime(Math.min(12_000, Math.max(1, hz)), begin + at);
      gain.gain.linearRampToValueAtTime(hz > 20 ? 0.18 / outputs.length : 0, begin + at);
    }
    oscillator.start(begin);
    oscillator.stop(begin + lasts + 0.05);
  }
  await new Promise((resolve) => setTimeout(resolve, (lasts + 0.2) * 1000));
  await audio.close();
}
