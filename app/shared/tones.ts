/** Plays what an ESC sounds after power-up, with Web Audio. */
import {hzOf, noteMs, type Melody} from '@core/sounds/rtttl';

interface Tone {
  readonly hz: number;
  readonly ms: number;
}

const gapMs = 60;
const pauseMs = 500;

/** The tone that calls a lost craft: pitch and length are our own. */
export const lostTone: readonly Tone[] = [
  {hz: 1976, ms: 400},
  {hz: 2637, ms: 400},
];

/** A melody as tones; pauses are silent. */
export const tonesOf = (melody: Melody): Tone[] =>
  melody.notes.map((note) => ({hz: note.pitch === undefined ? 0 : hzOf(note.pitch), ms: noteMs(melody, note)}));

/** Loudness of the range of an ESC, 0…255, that sounds as usual here. */
const usualLoudness = 110;

/** Plays tones one after the other, as loud as an ESC is set, 0…255; resolves when the last has ended. */
export async function playTones(
  parts: readonly (readonly Tone[])[],
  {loudness = usualLoudness, gapMs: between = gapMs}: {readonly loudness?: number; readonly gapMs?: number} = {},
): Promise<void> {
  const loud = Math.min(0.6, (0.25 * loudness) / usualLoudness);
  const audio = new AudioContext();
  let at = audio.currentTime + 0.05;
  for (const part of parts) {
    for (const {hz, ms} of part) {
      const oscillator = audio.createOscillator();
      const gain = audio.createGain();
      oscillator.type = 'triangle';
      oscillator.frequency.value = hz;
      // A few milliseconds of slope: an edge would click.
      gain.gain.setValueAtTime(0, at);
      gain.gain.linearRampToValueAtTime(hz > 0 ? loud : 0, at + 0.008);
      gain.gain.setValueAtTime(hz > 0 ? loud : 0, at + ms / 1000 - 0.01);
      gain.gain.linearRampToValueAtTime(0, at + ms / 1000);
      oscillator.connect(gain).connect(audio.destination);
      oscillator.start(at);
      oscillator.stop(at + ms / 1000);
      at += (ms + between) / 1000;
    }
    at += pauseMs / 1000;
  }
  await new Promise((resolve) => setTimeout(resolve, (at - audio.currentTime) * 1000));
  await audio.close();
}
