/** Answers the command line. */
import {main} from './door';
import {jsonPieces} from './print-json';

const {output, exitCode} = await main(process.argv.slice(2));
for (const piece of typeof output === 'string' ? [output] : jsonPieces(output)) process.stdout.write(piece);
process.stdout.write('\n');
process.exitCode = exitCode;
