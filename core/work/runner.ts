/**
 * Carries out a work order: journal first, one step after the other, stops at the first problem with a true account.
 * Running the same order again resumes it; every step looks at the hardware anew instead of trusting the journal.
 */
import {findChip} from '../firmware/chips';
import type {Image} from '../firmware/image';
import {planPages} from '../firmware/page-plan';
import type {BenchClient} from '../link/client';
import {sleep, type Clock} from '../link/port';
import {assertNever, ProblemError, type Problem} from '../problem';
import {decodeSettings, encodeSettings, settingsBytes} from '../settings/page';
import {findDifferences, formatControllerField, hasDifferences, motorList} from './difference';
import {erasePage, pageChecksum, readFlash, writePage} from './esc-access';
import {stepState, type Journal, type JournalEntry, type SnapshotPage} from './journal';
import {worstLoss, type ProofRecord, type ReplyMeasure} from './proof';
import type {Found} from './found';
import type {CancelSignal} from './spin';
import {survey} from './survey';
import type {Step, StepTarget, WorkOrder} from './work-order';

export interface Progress {
  readonly stepId: string;
  /** Share of the step, 0…1. */
  readonly share: number;
  readonly text: string;
  /** Motor at work, where one is. */
  readonly output?: number;
  readonly pagesDone?: number;
  readonly pagesTotal?: number;
  /** A question to the person that the step waits for. */
  readonly waitsFor?: 'battery' | 'hold';
}

export interface RunnerHost {
  readonly clock: Clock;
  /** Epoch ms, for records. */
  readonly today: () => number;
  readonly journal: Journal;
  readonly image: (sha256: string) => Promise<Image>;
  readonly onProgress: (progress: Progress) => void;
  /** Waits until the person holds, measures, and waits again when they let go too early. */
  readonly measureReplies: (outputs: number, poles: number, cancel: CancelSignal) => Promise<ReplyMeasure[]>;
  /** Set by the person to stop after the current page. */
  readonly cancel: CancelSignal;
}

export type Outcome =
  | {readonly kind: 'finished'; readonly found: Found; readonly proofs: readonly ProofRecord[]}
  | {readonly kind: 'stopped'; readonly step: Step; readonly problem: Problem};

export async function runWorkOrder(client: BenchClient, order: WorkOrder, host: RunnerHost): Promise<Outcome> {
  const run = new Run(client, order, host);
  for (const step of order.steps) {
    const outcome = await run.attempt(step);
    if (outcome) return outcome;
  }
  return run.finish();
}

class Run {
  private found: Found | undefined;

  constructor(
    private readonly client: BenchClient,
    private readonly order: WorkOrder,
    private readonly host: RunnerHost,
  ) {}

  /** Carries out one step unless the journal says it is done; returns only when the order stops here. */
  async attempt(step: Step): Promise<Outcome | undefined> {
    const entries = await this.host.journal.entries(this.order.id);
    if (stepState(entries, step.id) === 'done') return undefined;
    try {
      this.checkCancel();
      await this.carryOut(step, entries);
      return undefined;
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      await this.note(step, 'stopped', error.problem.meaning);
      return {kind: 'stopped', step, problem: error.problem};
    }
  }

  async finish(): Promise<Outcome> {
    const entries = await this.host.journal.entries(this.order.id);
    const proofs = entries.flatMap((e) => (e.proof ? [e.proof] : []));
    this.found ??= await survey(this.client, {at: this.host.today()});
    return {kind: 'finished', found: this.found, proofs};
  }

  private carryOut(step: Step, entries: readonly JournalEntry[]): Promise<void> {
    switch (step.kind) {
      case 'snapshot':
        return this.takeSnapshot(step);
      case 'write-firmware':
        return this.writeFirmware(step);
      case 'cycle-battery':
        return this.cycleBattery(step, entries);
      case 'set-parameters':
        return this.setParameters(step, entries);
      case 'set-controller':
        return this.setController(step);
      case 'prove-pages':
        return this.provePages(step);
      case 'prove-settings':
        return this.proveSettings(step);
      case 'prove-replies':
        return this.proveReplies(step);
      default:
        return assertNever(step);
    }
  }

  private async takeSnapshot(step: Step): Promise<void> {
    await this.note(step, 'begin', 'Reading everything before anything is written.');
    const found = await survey(this.client, {
      at: this.host.today(),
      known: new Map(this.order.found.escs.flatMap((e) => (e.hardware ? [[e.boot.serial, e.hardware] as const] : []))),
      onProgress: (share, text) => this.progress(step, share, text),
    });
    const changed = changedSince(this.order.found, found);
    if (changed)
      throw stop(
        'found-changed',
        changed,
        'The bench holds something else than when this order was made.',
        'Survey again and look at the new order.',
      );
    const snapshot: SnapshotPage[] = found.escs.map((e) => ({
      serial: e.boot.serial,
      output: e.output,
      page: e.settingsPage,
    }));
    await this.note(step, 'done', `Snapshot of ${snapshot.length} ESCs and the flight controller.`, {
      snapshot,
    });
  }

  private async writeFirmware(step: Extract<Step, {kind: 'write-firmware'}>): Promise<void> {
    const {output} = step.target;
    const image = await this.host.image(this.order.imageSha256!);
    await this.note(step, 'begin', `${step.title}, motor ${output + 1}. The identity page goes first out and last in.`);
    const chip = await this.enter(step.target);
    const planned = planPages(chip, image, []).image;
    const known: number[] = [];
    for (const page of planned) {
      known.push(await pageChecksum(this.client, chip, output, page.address));
      this.progress(step, 0, `Motor ${output + 1}: comparing pages`, {
        output,
        pagesDone: 0,
        pagesTotal: step.pages,
      });
    }
    const {toWrite} = planPages(chip, image, known);
    const total = Math.max(step.pages, toWrite.length);
    let done = total - toWrite.length;
    const identity = planned[0]!;
    if (toWrite.length) await erasePage(this.client, output, identity.address);
    for (const page of toWrite) {
      this.checkCancel();
      this.progress(step, done / total, `Motor ${output + 1}: page ${done + 1} of ${total}`, {
        output,
        pagesDone: done,
        pagesTotal: total,
      });
      await writePage(this.client, chip, output, page.address, page.bytes);
      done++;
      await this.note(step, 'page', `Page 0x${page.address.toString(16).toUpperCase()} written and checked.`, {
        address: page.address,
      });
    }
    this.progress(step, 1, `Motor ${output + 1}: ${total} pages written and checked`, {
      output,
      pagesDone: total,
      pagesTotal: total,
    });
    await this.note(
      step,
      'done',
      `Motor ${output + 1}: ${toWrite.length} pages written and checked, ${planned.length - toWrite.length} were equal.`,
    );
  }

  private async cycleBattery(step: Step, entries: readonly JournalEntry[]): Promise<void> {
    const begun = entries.find((e) => e.stepId === step.id && e.event === 'begin');
    const before = begun?.cycles ?? (await this.client.request('power', null)).cycles;
    if (!begun) await this.note(step, 'begin', 'Waiting for the battery to go off and on.', {cycles: before});
    for (;;) {
      this.checkCancel();
      const power = await this.client.request('power', null);
      if (power.cycles !== before && power.volts > 3) break;
      const text = power.volts > 3 ? 'Take the battery off.' : 'Now connect the battery again.';
      this.progress(step, power.volts > 3 ? 0 : 0.5, text, {waitsFor: 'battery'});
      await sleep(this.host.clock, 200);
    }
    // The ESCs start up and sound their tones before they answer again.
    await sleep(this.host.clock, 600);
    await this.note(step, 'done', 'The battery went off and on again.');
  }

  private async setParameters(
    step: Extract<Step, {kind: 'set-parameters'}>,
    entries: readonly JournalEntry[],
  ): Promise<void> {
    await this.note(step, 'begin', 'Writing settings pages; the pages before are in the snapshot.');
    const snapshot = entries.find((e) => e.snapshot)?.snapshot ?? [];
    let done = 0;
    for (const target of step.targets) {
      this.checkCancel();
      this.progress(step, done / step.targets.length, `Motor ${target.output + 1}: settings`, {
        output: target.output,
      });
      const chip = await this.enter(target);
      const {output} = target;
      const current = await readFlash(this.client, output, chip.settings.start, chip.pageBytes);
      const before = snapshot.find((s) => s.serial === target.serial)?.page;
      const base = [before, current].find((page) => page && decodedLayout(page) === step.layout);
      const page = new Uint8Array(chip.pageBytes).fill(0xff);
      if (base) page.set(base);
      page.set(encodeSettings(step.layout, target.values, base));
      if (page.some((byte, i) => byte !== current[i]))
        await writePage(this.client, chip, output, chip.settings.start, page);
      await this.client.request('esc.leave', {output});
      done++;
    }
    await this.note(
      step,
      'done',
      `Settings written and checked on ${motorList(
        step.targets.map((t) => t.output),
        this.order.found.escs.length,
      )}.`,
    );
  }

  private async setController(step: Extract<Step, {kind: 'set-controller'}>): Promise<void> {
    await this.note(step, 'begin', 'Setting the flight controller.');
    this.progress(step, 0.2, 'Flight controller: setting fields');
    await this.client.request('controller.set', step.config);
    await this.client.request('controller.save', null);
    this.progress(step, 0.6, 'Flight controller: restarting');
    await this.client.request('controller.restart', null);
    await this.note(step, 'done', 'Flight controller set, saved and restarted.');
  }

  private async provePages(step: Extract<Step, {kind: 'prove-pages'}>): Promise<void> {
    await this.note(step, 'begin', 'Checksum of every page of the image.');
    const image = await this.host.image(this.order.imageSha256!);
    let checked = 0;
    for (const target of step.targets) {
      const chip = await this.enter(target);
      const {image: pages} = planPages(chip, image, []);
      for (const page of pages) {
        this.progress(step, checked / (pages.length * step.targets.length), `Motor ${target.output + 1}: checksums`, {
          output: target.output,
        });
        if ((await pageChecksum(this.client, chip, target.output, page.address)) !== page.crc32)
          throw stop(
            'proof-failed',
            `motor ${target.output + 1}`,
            `Page 0x${page.address.toString(16).toUpperCase()} is not the page of the image.`,
            'Survey again: the new order writes it.',
          );
        checked++;
      }
      await this.client.request('esc.leave', {output: target.output});
    }
    await this.prove(step, {
      kind: 'pages',
      text: `${checked} of ${checked} page checksums equal the image, ${step.targets.length} ESCs`,
    });
  }

  private async proveSettings(step: Step): Promise<void> {
    await this.note(step, 'begin', 'Reading every setting back.');
    const found = await survey(this.client, {
      at: this.host.today(),
      onProgress: (share, text) => this.progress(step, share, `${text}: reading back`),
    });
    this.found = found;
    const differences = findDifferences(this.order.plan, found);
    if (hasDifferences(differences) || found.silent.length) {
      const first = differences.parameters[0];
      const what = first
        ? `${first.key} of motor ${first.output + 1}`
        : (differences.controller[0]?.field ?? differences.firmware[0]?.from ?? 'an ESC is silent');
      throw stop(
        'proof-failed',
        what,
        'Read back, it is not what the plan says.',
        'Survey again: the new order sets it.',
      );
    }
    const count = found.escs.reduce((sum, e) => sum + Object.keys(e.settings?.values ?? {}).length, 0);
    const {protocol, replies} = found.controller.config;
    await this.prove(step, {
      kind: 'settings',
      text: `${count} ESC settings read back; ${formatControllerField('protocol', protocol)} with replies ${replies ? 'on' : 'off'} in the flight controller`,
    });
  }

  private async proveReplies(step: Extract<Step, {kind: 'prove-replies'}>): Promise<void> {
    await this.note(step, 'begin', 'Waiting for a person to hold.');
    this.progress(step, 0, 'Hold the button: idle, 30 %, 60 %, 2 s each.', {waitsFor: 'hold'});
    const measures = await this.host.measureReplies(step.outputs, step.poles, this.host.cancel);
    const loss = worstLoss(measures);
    const record = replyProof(measures, this.host.today());
    await this.note(step, record.holds ? 'done' : 'stopped', record.text, {proof: record});
    if (!record.holds)
      throw stop(
        'proof-failed',
        'replies',
        loss === undefined ? 'No replies came.' : record.text,
        'Look at the loop budget on the Signal station; replies must not be lost.',
      );
  }

  private async enter(target: StepTarget) {
    const boot = await this.client.request('esc.enter', {output: target.output});
    if (boot.serial !== target.serial)
      throw stop(
        'other-esc',
        `motor ${target.output + 1}`,
        'Another ESC is on this output than when the order was made.',
        'Put the plugs back, or survey and make a new order.',
      );
    return findChip(boot.chip)!;
  }

  private async prove(step: Step, {kind, text}: Pick<ProofRecord, 'kind' | 'text'>): Promise<void> {
    const proof: ProofRecord = {kind, text, at: this.host.today(), holds: true};
    await this.note(step, 'done', text, {proof});
    this.progress(step, 1, text);
  }

  private checkCancel(): void {
    if (this.host.cancel.aborted)
      throw stop(
        'stopped-by-person',
        'work order',
        'Stopped by you, after the page that was being written.',
        'Resume when ready.',
      );
  }

  private progress(
    step: Step,
    share: number,
    text: string,
    more: Omit<Progress, 'stepId' | 'share' | 'text'> = {},
  ): void {
    this.host.onProgress({stepId: step.id, share, text, ...more});
  }

  private note(
    step: Step,
    event: JournalEntry['event'],
    text: string,
    more: Partial<JournalEntry> = {},
  ): Promise<void> {
    return this.host.journal.append({
      orderId: this.order.id,
      at: this.host.today(),
      stepId: step.id,
      event,
      text,
      ...more,
    });
  }
}

/** The proof that reply measures give. */
export function replyProof(measures: readonly ReplyMeasure[], at: number): ProofRecord {
  const loss = worstLoss(measures);
  const asked = measures.reduce((sum, m) => sum + m.motors.reduce((s, motor) => s + motor.asked, 0), 0);
  const text =
    loss === undefined
      ? 'No replies were asked for: they are off in the flight controller.'
      : `worst reply loss ${(loss * 100).toFixed(1)} % over ${asked.toLocaleString('en')} replies at idle, 30 % and 60 %`;
  return {kind: 'replies', at, holds: loss === 0, text, replies: measures};
}

function decodedLayout(page: Uint8Array): number | undefined {
  const decoded = decodeSettings(page.subarray(0, settingsBytes));
  return decoded.ok ? decoded.value.layout : undefined;
}

/** The first thing that is not as it was, in words; undefined when all is. */
function changedSince(before: Found, now: Found): string | undefined {
  for (const esc of before.escs) {
    const other = now.escs.find((e) => e.output === esc.output);
    const name = `motor ${esc.output + 1}`;
    if (!other) return `${name} does not answer`;
    if (other.boot.serial !== esc.boot.serial) return `${name} is another ESC`;
    if (other.pageCrcs.some((crc, i) => crc !== esc.pageCrcs[i])) return `${name} holds other firmware`;
    if (other.settingsPage.some((byte, i) => byte !== esc.settingsPage[i])) return `${name} holds other settings`;
  }
  return JSON.stringify(before.controller.config) === JSON.stringify(now.controller.config)
    ? undefined
    : 'the flight controller';
}

const stop = (code: string, place: string, meaning: string, remedy: string) =>
  new ProblemError({code, place, meaning, remedy});
