/** Reading and setting a flight controller's configuration, in pieces where a link drops long transfers. */
import {configFromWire, configToWire} from '../controller/wire';
import type {ControllerConfig} from '../controller/plan';
import type {BenchClient} from '../link/client';
import {wireConfigSchema, wireFields, type WireConfig} from '../link/operations';
import {ProblemError} from '../problem';

/** Fields asked for or sent at once on such a link: a switch or a receiver is the longest. */
const fieldsAtOnce = 4;
/** Links that were found to drop long transfers. */
const inPieces = new WeakSet<BenchClient>();

/** The whole configuration as the controller runs on it, with what was set and not saved. */
export async function readConfig(client: BenchClient): Promise<ControllerConfig> {
  return configFromWire(
    await wholeOrPieces(
      client,
      () => client.request('controller.read', null),
      () => readPieces(client),
    ),
  );
}

/** Sets fields; not saved yet. */
export async function setConfig(client: BenchClient, config: Partial<ControllerConfig>): Promise<void> {
  const wire = configToWire(config);
  await wholeOrPieces(
    client,
    () => client.request('controller.set', wire),
    async () => {
      for (const part of parts(Object.entries(wire))) await client.request('controller.set', Object.fromEntries(part));
      return null;
    },
  );
}

async function readPieces(client: BenchClient): Promise<WireConfig> {
  const all = {};
  for (const fields of parts(wireFields))
    Object.assign(all, await client.request('controller.part', {fields: [...fields]}));
  const read = wireConfigSchema.safeParse(all);
  if (read.success) return read.data;
  throw new ProblemError({
    code: 'protocol-error',
    place: 'flight controller',
    meaning: `Read in pieces, its configuration has no ${read.error.issues[0]?.path.join('.') ?? 'valid content'}.`,
    remedy: 'Plug the cable straight into the computer, without a hub, and survey again.',
  });
}

/** One transfer; where it stays unanswered and a shorter one gets through, pieces, from then on at once. */
async function wholeOrPieces<T>(client: BenchClient, whole: () => Promise<T>, pieces: () => Promise<T>): Promise<T> {
  if (inPieces.has(client)) return pieces();
  try {
    return await whole();
  } catch (error) {
    const unanswered = error instanceof ProblemError && error.problem.code === 'unanswered';
    if (!unanswered || client.isClosed || !client.can('controller.part')) throw error;
    // Something shorter must get through, else the link is dead and not just bad at long transfers.
    await client.request('power', null);
    const got = await pieces().catch((second: unknown) => {
      // An adapter that knows no pieces says so; what went wrong first is what matters then.
      const isUnanswered = second instanceof ProblemError && second.problem.code === 'unanswered';
      throw isUnanswered ? second : error;
    });
    inPieces.add(client);
    return got;
  }
}

function parts<T>(list: readonly T[]): T[][] {
  const count = Math.ceil(list.length / fieldsAtOnce);
  return Array.from({length: count}, (_, i) => list.slice(i * fieldsAtOnce, (i + 1) * fieldsAtOnce));
}
