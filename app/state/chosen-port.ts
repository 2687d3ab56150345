/** By which road this page reaches the bench of each craft: simulated, a serial port of the browser, or a bridge. */
import {Injectable, inject, signal} from '@angular/core';
import * as z from 'zod';
import type {Craft} from '@core/craft/craft';
import {bridgePort, type ListedPort} from '@core/link/bridge';
import {enterBridge, type BridgeDesk, type BridgeSocket} from '@core/link/bridge-port';
import type {BytePort} from '@core/link/port';
import {failure, ProblemError, success, type Result} from '@core/problem';
import {readNote, writeNote} from '../store/local-notes';
import {StandIn} from '../workers/stand-in';
import {CLOCK} from '../bench/page-clock';
import type {PortSource} from '../bench/port-source';
import {allowedPort, chosenPort, isKnown, knownAs, noSerial, openSerial, serialOf} from '../bench/serial-port';

const number = z.number().int().min(0).max(0xffff);
const choiceSchema = z.discriminatedUnion('kind', [
  z.object({kind: z.literal('simulated')}),
  z.object({
    kind: z.literal('serial'),
    known: z.object({vendor: number.optional(), product: number.optional()}).optional(),
  }),
  z.object({kind: z.literal('bridge'), at: number, path: z.string().max(300).optional()}),
]);
/** What is kept for a craft: how it is reached, and what helped. */
const keptSchema = z.object({choice: choiceSchema, helped: z.string().max(200).optional()});
export type PortChoice = z.infer<typeof choiceSchema>;
type Kept = z.infer<typeof keptSchema>;
export type PortKind = PortChoice['kind'];

const noteKey = 'bidex-ports';
const codeKey = 'bidex-bridge-code';
const simulated: Kept = {choice: {kind: 'simulated'}};
export const usualBridge: PortChoice = {kind: 'bridge', at: bridgePort};

@Injectable({providedIn: 'root'})
export class ChosenPort implements PortSource {
  private readonly standIn = inject(StandIn);
  private readonly clock = inject(CLOCK);
  private readonly kept = signal<Readonly<Record<string, Kept>>>(readKept());
  /** A bridge that let this page in and has opened nothing yet: it serves one page, so that leaving it would end it. */
  private desk: {readonly at: number; readonly desk: BridgeDesk} | undefined;
  /** Of the bridge: typed once for as long as the tab is open. */
  readonly code = signal(sessionStorage.getItem(codeKey) ?? '');

  of(craftId: string | undefined): PortChoice {
    return this.keptOf(craftId).choice;
  }

  helped(craftId: string | undefined): string {
    return this.keptOf(craftId).helped ?? '';
  }

  choose(craftId: string, choice: PortChoice): void {
    this.keep(craftId, {choice});
  }

  noteHelped(craftId: string, helped: string): void {
    this.keep(craftId, {helped: helped || undefined});
  }

  setCode(code: string): void {
    this.code.set(code);
    sessionStorage.setItem(codeKey, code);
  }

  async open(craft: Craft | undefined): Promise<BytePort> {
    const choice = this.of(craft?.id);
    if (choice.kind === 'simulated') return this.standIn.open(craft);
    if (choice.kind === 'serial') return this.openSerial(craft!.id, choice);
    const desk = await this.enter(choice.at);
    // A port is opened once: after that the desk has no more to say.
    this.desk = undefined;
    return desk.open(desk.serves === undefined ? choice.path : undefined);
  }

  /** Ports that the bridge at this TCP port lists; undefined where one was chosen in its terminal. Its desk stays for `open`. */
  async bridgePorts(at: number): Promise<Result<readonly ListedPort[] | undefined>> {
    try {
      const desk = await this.enter(at);
      return success(desk.serves === undefined ? await desk.list() : undefined);
    } catch (error) {
      this.desk = undefined;
      if (!(error instanceof ProblemError)) throw error;
      return failure(error.problem);
    }
  }

  private async enter(at: number): Promise<BridgeDesk> {
    if (this.desk?.at === at) return this.desk.desk;
    this.desk?.desk.close();
    this.desk = undefined;
    const socket = new WebSocket(`ws://127.0.0.1:${at}/`);
    socket.binaryType = 'arraybuffer';
    const after = (ms: number, callback: () => void) => this.clock.after(ms, callback);
    const desk = await enterBridge(socket as unknown as BridgeSocket, this.code(), after);
    this.desk = {at, desk};
    return desk;
  }

  private async openSerial(craftId: string, {known}: Extract<PortChoice, {kind: 'serial'}>): Promise<BytePort> {
    const serial = serialOf(navigator);
    if (!serial) throw new ProblemError(noSerial);
    const port = (await allowedPort(serial, known)) ?? (await chosenPort(serial));
    const opened = await openSerial(port);
    this.choose(craftId, {kind: 'serial', known: knownAs(port)});
    return opened;
  }

  /** Whether a port that has just come is the one of this craft. */
  isOf(craftId: string | undefined, port: SerialPort): boolean {
    const choice = this.of(craftId);
    return choice.kind === 'serial' && choice.known !== undefined && isKnown(port, choice.known);
  }

  private keptOf(craftId: string | undefined): Kept {
    return (craftId === undefined ? undefined : this.kept()[craftId]) ?? simulated;
  }

  private keep(craftId: string, change: Partial<Kept>): void {
    this.kept.update((all) => ({...all, [craftId]: {...(all[craftId] ?? simulated), ...change}}));
    writeNote(noteKey, JSON.stringify(this.kept()));
  }
}

function readKept(): Readonly<Record<string, Kept>> {
  try {
    const read = z.record(z.string(), keptSchema).safeParse(JSON.parse(readNote(noteKey) ?? '{}'));
    return read.success ? read.data : {};
  } catch {
    // Not ours, or cut short: every craft begins with its simulated bench.
    return {};
  }
}
