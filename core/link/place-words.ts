/** Where something went wrong, as a person calls it: no operation's name is a title. */
import type {Operation} from './operations';

const places: Readonly<Record<string, string>> = {
  ...{controller: 'flight controller', loader: 'loader of the flight controller', burst: 'flight controller'},
  ...{attitude: 'accelerometer', receiver: 'receiver', arming: 'flight controller', locks: 'flight controller'},
  ...{tasks: 'flight controller', mixer: 'flight controller', ends: 'analog throttle', tone: 'tones', spin: 'motors'},
};

/** @param argument of the request; those for one ESC name its output. */
export function placeOfRequest(operation: Operation, argument: unknown): string {
  const [part = ''] = operation.split('.');
  const {output} = (argument ?? {}) as {readonly output?: unknown};
  if (part === 'esc') return typeof output === 'number' ? `motor ${output + 1}` : 'ESC';
  return places[part] ?? 'bench link';
}
