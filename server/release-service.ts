/**
 * The release service stand-in: catalogue, images and flight logs. `?as=` makes it misbehave in the ways a real one can,
 * so that Bidex can be seen to notice: down, altered, older, image-altered, image-cut, image-wrong.
 */
import {existsSync, readFileSync} from 'node:fs';
import {join} from 'node:path';
import express, {type Request, type Response, type Router} from 'express';
import {catalogueSchema, signedCatalogueSchema} from '@core/firmware/releases';
import {problem} from './problem';

const asked = (request: Request): string => (typeof request.query['as'] === 'string' ? request.query['as'] : '');

export function releaseService(demo: string): Router {
  const api = express.Router();
  const readSigned = (name: string) =>
    signedCatalogueSchema.parse(JSON.parse(readFileSync(join(demo, `${name}.json`), 'utf8')));
  const signed = readSigned('catalogue');
  const catalogue = catalogueSchema.parse(JSON.parse(signed.catalogue));
  const releases = [...catalogue.releases, ...(catalogue.controllers?.releases ?? [])];
  /** Read when they are asked for: a missing file of a misbehaviour leaves the right answer whole. */
  const answers = new Map<string, () => object>([
    ['altered', () => ({...signed, catalogue: signed.catalogue.replace('"withdrawn"', '"steady"')})],
    ['older', () => readSigned('catalogue-older')],
  ]);
  api.use((request, response, next) => {
    if (asked(request) === 'down') problem(response, 503, 'down', 'The service is down.');
    else next();
  });
  api.get('/releases', (request, response) => {
    response.setHeader('Cache-Control', 'no-cache').json(answers.get(asked(request))?.() ?? signed);
  });
  api.get('/images/:sha256', (request, response) => {
    const release = releases.find((r) => r.sha256 === request.params.sha256);
    if (!release) return void problem(response, 404, 'unknown-image', 'No release has an image with this digest.');
    const wrong = asked(request);
    const other = releases.find((r) => r.board !== release.board)!;
    const file = readFileSync(join(demo, 'releases', `${wrong === 'image-wrong' ? other.id : release.id}.hex`));
    if (wrong === 'image-altered') file[200] = file[200] === 0x41 ? 0x42 : 0x41;
    const sent = wrong === 'image-cut' ? file.subarray(0, file.length / 2) : file;
    const cache = wrong === '' ? 'public, max-age=31536000, immutable' : 'no-store';
    response.type('text/plain').setHeader('Cache-Control', cache).send(sent);
  });
  api.get('/flight-logs/:name', (request, response) =>
    sendFlightLog(join(demo, 'logs'), request.params.name, response),
  );
  api.use(
    (request, response) => void problem(response, 404, 'not-found', `There is no ${request.baseUrl}${request.path}.`),
  );
  return api;
}

/** Packed on disk and on the way; a browser unpacks it by itself. */
function sendFlightLog(logs: string, name: string, response: Response): void {
  const file = join(logs, `${name}.csv.gz`);
  if (!/^[a-z-]+$/.test(name) || !existsSync(file))
    return void problem(response, 404, 'unknown-log', `There is no flight log "${name}".`);
  response.type('text/csv').setHeader('Cache-Control', 'no-cache').setHeader('Content-Encoding', 'gzip');
  response.send(readFileSync(file));
}
