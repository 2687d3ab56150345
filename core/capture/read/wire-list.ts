/** Wires as they are filled by a reader: values over time become edges; a value that repeats is none. */
import type {Level, Wire} from './capture';
import {TimeList} from './time-list';

/** Most wires of a file, and other names of wires: a few lines can declare any number. */
export const maxWires = 4096;

/** A value as files write it: low, high, or not known. */
export type Value = Level | undefined;

export class WireBuilder {
  private first: Level | undefined;
  private level: Value;
  private readonly edges = new TimeList();
  private readonly unknown = new TimeList();
  private isUnknown = false;
  private also: Set<string> | undefined;

  constructor(private readonly name: string) {}

  /** Another name of the same wire. */
  alias(name: string): void {
    if (name !== this.name) (this.also ??= new Set()).add(name);
  }

  /** Times that are kept of it. */
  get kept(): number {
    return this.edges.length + this.unknown.length;
  }

  /** @param time s, not before the last one. */
  set(value: Value, time: number): void {
    if (value === undefined) {
      if (!this.isUnknown && this.first !== undefined) this.unknown.push(time);
      this.isUnknown = this.first !== undefined;
      return;
    }
    if (this.isUnknown) {
      this.unknown.push(time);
      this.isUnknown = false;
    }
    if (this.level === value) return;
    if (this.first === undefined) this.first = value;
    else this.edges.push(time);
    this.level = value;
  }

  /** @param to the last moment of the capture, s. */
  end(to: number): Wire {
    if (this.isUnknown) this.unknown.push(to);
    const also = this.also ? {also: [...this.also]} : {};
    return {name: this.name, ...also, first: this.first, edges: this.edges.take(), unknown: this.unknown.take()};
  }
}
