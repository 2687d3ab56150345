/** Two pseudo-terminals joined by socat, the stand-in on one of them, and a bridge or anything else on the other. */
import {spawn, type ChildProcess} from 'node:child_process';
import {mkdtempSync, rmSync} from 'node:fs';
import {tmpdir} from 'node:os';
import {join} from 'node:path';
import type {BytePort} from '@core/link/port';
import {openSerialPort} from '../tools/door/serial-port';

interface Program {
  /** The first group of a line that it prints, once it has. */
  said(pattern: RegExp): Promise<string>;
  type(line: string): void;
  /** Holds it up, and lets it go on. */
  stall(isHeld: boolean): void;
  end(): Promise<void>;
}

function started(command: string, args: readonly string[]): Program {
  const child: ChildProcess = spawn(command, args, {stdio: ['pipe', 'pipe', 'pipe']});
  let heard = '';
  const listeners = new Set<() => void>();
  const hear = (data: Buffer) => {
    heard += data.toString();
    for (const listener of listeners) listener();
  };
  child.stdout!.on('data', hear);
  child.stderr!.on('data', hear);
  const gone = new Promise<void>((resolve) => child.once('exit', () => resolve()));
  return {
    said: (pattern) =>
      new Promise((resolve, reject) => {
        const look = () => {
          const found = pattern.exec(heard);
          if (!found) return;
          listeners.delete(look);
          resolve(found[1] ?? found[0]);
        };
        listeners.add(look);
        void gone.then(() => reject(new Error(`${command} ended: ${heard}`)));
        look();
      }),
    type: (line) => void child.stdin!.write(`${line}\n`),
    stall: (isHeld) => void child.kill(isHeld ? 'SIGSTOP' : 'SIGCONT'),
    async end() {
      child.kill('SIGCONT');
      child.kill('SIGTERM');
      await gone;
    },
  };
}

export class SerialBench {
  readonly near: string;
  private readonly far: string;
  private readonly folder = mkdtempSync(join(tmpdir(), 'bidex-serial-'));
  private cable: Program | undefined;
  private bench: Program | undefined;
  private readonly programs: Program[] = [];

  constructor() {
    this.near = join(this.folder, 'near');
    this.far = join(this.folder, 'far');
  }

  async plugIn(): Promise<void> {
    this.cable = started('socat', ['-d', '-d', `pty,raw,echo=0,link=${this.near}`, `pty,raw,echo=0,link=${this.far}`]);
    await this.cable.said(/starting data transfer loop/);
  }

  async pullOut(): Promise<void> {
    await this.cable?.end();
    this.cable = undefined;
  }

  async begin(craft: string): Promise<void> {
    await this.plugIn();
    this.bench = this.door('bench', '--craft', craft, '--serial', this.far);
    await this.bench.said(/is on /);
  }

  hand(act: string): void {
    this.bench!.type(act);
  }

  /** A command of the headless door. */
  door(...args: readonly string[]): Program {
    const program = started(process.execPath, ['tools/bidex.mjs', ...args]);
    this.programs.push(program);
    return program;
  }

  async end(): Promise<void> {
    for (const program of this.programs) await program.end();
    await this.pullOut();
    rmSync(this.folder, {recursive: true, force: true});
  }
}

/** The serial device as a page gets it by way of the test. */
export class SerialDevice {
  /** Another program has it. */
  isHeld = false;
  private port: BytePort | undefined;

  constructor(private readonly path: string) {}

  async open(): Promise<boolean> {
    if (this.isHeld) return false;
    // A page that was loaded anew has let it go.
    await this.close();
    this.port = await openSerialPort(this.path);
    return true;
  }

  async write(bytes: readonly number[]): Promise<void> {
    await this.port?.writable.getWriter().write(new Uint8Array(bytes));
  }

  /** Null when it has gone. */
  async read(): Promise<number[] | null> {
    const read = await this.port?.readable.getReader().read();
    return read?.value ? [...read.value] : null;
  }

  async close(): Promise<void> {
    await this.port?.readable.getReader().cancel();
    this.port = undefined;
  }
}
