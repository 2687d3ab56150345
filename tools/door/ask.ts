/** The headless door as another program sees it: what it prints, read again. */
import {main} from './door';
import {jsonPieces} from './print-json';

export async function ask(args: readonly string[]): Promise<{readonly output: unknown; readonly exitCode: number}> {
  const {output, exitCode} = await main(args);
  return {output: JSON.parse([...jsonPieces(output)].join('')) as unknown, exitCode};
}
