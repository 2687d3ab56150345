/** One strip for each ESC that an order writes: how many pages, bytes and seconds are left, and what stopped it. */
import {kibOfText} from '../../words/size';
import type {ImagesOfStep} from '../../order/step-kind';
import type {Step} from '../../order/steps';
import type {JournalEntry} from '../../run/journal';
import type {Progress} from '../../run/runner';
import {stepKinds} from '../../run/steps/step-kinds';
import type {WorkNow} from '../order/work-now';

interface Strip {
  readonly id: string;
  readonly name: string;
  readonly image: string;
  readonly pages: number;
  readonly done: number;
  readonly state: 'waiting' | 'writing' | 'paused' | 'done' | 'isolated' | 'stopped';
  readonly words: string;
  readonly bytes: string;
  readonly left: string;
}

/** In the order in which they are written; empty where no order is open. */
export function writeStrips({open, journal, isRunning, working}: WorkNow): Strip[] {
  const steps = (open?.order.steps ?? []).flatMap(imageStep);
  const now = isRunning ? working : {};
  return [...new Set(steps.map((s) => s.target.output))].map((output) => {
    const own = steps.filter((s) => s.target.output === output);
    const parts = own.map((s) => part(s, now[s.step.id], journal));
    return stripOf(parts, own[0]!);
  });
}

/** The strip a step belongs to: a reply module shares its ESC's. */
export const stripId = (stepId: string): string => stepId.replace(/-module$/, '');

/** How far one step of an ESC is. */
interface Part {
  readonly image: string;
  readonly pages: number;
  readonly done: number;
  readonly state: Strip['state'];
  readonly progress: Progress | undefined;
}

/** A step that writes images, with them. */
interface ImageStep extends ImagesOfStep {
  readonly step: Step;
}

function imageStep(step: Step): ImageStep[] {
  const images = stepKinds.of(step).images?.(step);
  return images ? [{step, ...images}] : [];
}

function part({step, writes}: ImageStep, progress: Progress | undefined, journal: readonly JournalEntry[]): Part {
  const own = journal.filter((e) => e.stepId === step.id);
  const pages = progress?.pagesTotal ?? writes.reduce((sum, w) => sum + w.pages, 0);
  const last = own.findLast((e) => e.event !== 'page' && e.event !== 'retry' && e.event !== 'snapshot')?.event;
  const state = stateOf(last, progress);
  const written = own.filter((e) => e.event === 'page').length;
  const done = state === 'done' ? pages : (progress?.pagesDone ?? Math.min(pages, written));
  return {image: writes.map((w) => w.image.name).join(', then '), pages, done, state, progress};
}

function stateOf(last: JournalEntry['event'] | undefined, progress: Progress | undefined): Strip['state'] {
  if (last === 'done' || last === 'isolated') return last;
  if (progress?.paused) return 'paused';
  if (progress?.pagesTotal !== undefined) return 'writing';
  return last === 'stopped' ? 'stopped' : 'waiting';
}

/** One ESC's images in one strip, base first. */
function stripOf(parts: readonly Part[], {step, target}: ImageStep): Strip {
  const sum = (of: (p: Part) => number) => parts.reduce((total, p) => total + of(p), 0);
  const pages = Math.max(
    1,
    sum((p) => p.pages),
  );
  const done = sum((p) => p.done);
  const now = parts.find((p) => p.state !== 'done') ?? parts.at(-1)!;
  const state = now.state === 'waiting' && done > 0 ? 'writing' : now.state;
  return {
    ...{id: step.id, pages, done, state, words: wordsOf(state, done, pages)},
    name: step.kind === 'visit' ? step.title.split(',')[0]! : `Motor ${target.output + 1}`,
    image: parts.map((p) => p.image).join(', then '),
    ...figuresOf(state, now.progress),
  };
}

function wordsOf(state: Strip['state'], done: number, pages: number): string {
  return {
    waiting: 'waits for its turn',
    writing: `page ${Math.min(done + 1, pages)} of ${pages}`,
    paused: `paused after page ${done} of ${pages}`,
    done: `✓ ${pages} pages written and checked`,
    isolated: `isolated at page ${done + 1} of ${pages}`,
    stopped: `stopped after page ${done} of ${pages}`,
  }[state];
}

function figuresOf(state: Strip['state'], progress: Progress | undefined): Pick<Strip, 'bytes' | 'left'> {
  const {bytesTotal, bytesDone = 0, leftMs} = progress ?? {};
  return {
    bytes: bytesTotal !== undefined && state !== 'done' ? kibOfText(bytesDone, bytesTotal) : '',
    left: state === 'writing' && leftMs !== undefined ? `about ${Math.ceil(leftMs / 1000)} s left` : '',
  };
}
