/** What the release service answers, or in true words what came instead. */
import {ProblemError} from '@core/problem';
import {grouped} from '@core/words/grouped';

export async function fetchFrom(path: string): Promise<Response> {
  let response: Response | undefined;
  try {
    response = await fetch(path);
  } catch {
    // fetch rejects for every kind of network failure alike; the answer is the same: the service is not there.
    response = undefined;
  }
  if (response?.ok) return response;
  throw new ProblemError({
    code: 'service-down',
    place: 'release service',
    meaning: response ? `It answered with status ${response.status}.` : 'It cannot be reached.',
    remedy: 'What was kept before can still be used. Try again later.',
  });
}

export async function readBytes(answer: Response): Promise<Uint8Array> {
  try {
    return new Uint8Array(await answer.arrayBuffer());
  } catch {
    throw new ProblemError({
      code: 'service-down',
      place: 'release service',
      meaning: 'An image broke off in the middle.',
      remedy: 'What was kept before can still be used. Try again later.',
    });
  }
}

/** The JSON of an answer. A page to log in, an empty or a cut answer is told as what it is. */
export async function readJson(answer: Response): Promise<unknown> {
  const refuse = (meaning: string) =>
    new ProblemError({
      code: 'not-a-catalogue',
      place: 'release service',
      meaning,
      remedy:
        'What was kept before can still be used. If a log-in page stands before the network, log in, then load again.',
    });
  let text: string;
  try {
    text = await answer.text();
  } catch {
    throw refuse('Its answer broke off in the middle.');
  }
  try {
    return JSON.parse(text);
  } catch {
    const type = answer.headers.get('content-type')?.split(';')[0] ?? 'no type given';
    throw refuse(
      text.trim()
        ? `It answered with something that is not a catalogue (${type}, ${grouped(text.length)} characters).`
        : 'It answered with nothing.',
    );
  }
}
