/** Which port the board is, told by two lists of the ports: one from before it was plugged in or out, one from after. */
import type {ListedPort} from './bridge';

export interface Plugging {
  readonly came: readonly ListedPort[];
  readonly went: readonly ListedPort[];
  /** At the same place as before, and another device now: a board that has started its loader, or has left it. */
  readonly turned: readonly (readonly [before: ListedPort, now: ListedPort])[];
}

/** Systems give a place in their list to whatever comes first: what is there is told by its numbers as well. */
const isSame = (a: ListedPort, b: ListedPort): boolean =>
  a.path === b.path && a.vendor === b.vendor && a.product === b.product && a.serial === b.serial;

export function plugging(before: readonly ListedPort[], now: readonly ListedPort[]): Plugging {
  const isIn = (list: readonly ListedPort[]) => (port: ListedPort) => list.some((other) => isSame(port, other));
  const [came, went] = [now.filter((p) => !isIn(before)(p)), before.filter((p) => !isIn(now)(p))];
  const turned = came.flatMap((to) => went.filter((from) => from.path === to.path).map((from) => [from, to] as const));
  const isTurned = (port: ListedPort) => turned.some((pair) => pair.includes(port));
  return {came: came.filter((p) => !isTurned(p)), went: went.filter((p) => !isTurned(p)), turned};
}
