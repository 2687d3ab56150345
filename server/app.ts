/** The server as a value: the built application, the release service stand-in and the demo's flight logs. */
import {createReadStream, existsSync, readFileSync} from 'node:fs';
import {join} from 'node:path';
import compression from 'compression';
import express, {type ErrorRequestHandler, type Express, type Response} from 'express';
import helmet from 'helmet';
import {catalogueShape, signedCatalogueShape} from '@core/firmware/releases';

export interface ServerFolders {
  /** The built application. */
  readonly application: string;
  /** Catalogue, release images and flight logs. */
  readonly demo: string;
}

const problem = (response: Response, status: number, code: string, message: string) =>
  response.status(status).json({error: {code, message}});

export function createServer({application, demo}: ServerFolders): Express {
  const server = express();
  server.disable('x-powered-by');
  server.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'none'"],
          scriptSrc: ["'self'"],
          workerSrc: ["'self'"],
          // Component styles are added as style elements at run time.
          styleSrc: ["'self'", "'unsafe-inline'"],
          fontSrc: ["'self'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          connectSrc: ["'self'"],
          baseUri: ["'self'"],
          formAction: ["'none'"],
          frameAncestors: ["'none'"],
        },
      },
      strictTransportSecurity: false,
    }),
  );
  server.use(compression());
  server.use('/api', releaseService(demo));
  server.use(
    express.static(application, {
      index: false,
      setHeaders: (response, path) =>
        response.setHeader(
          'Cache-Control',
          /-[A-Z0-9]{8}\.\w+$/.test(path) ? 'public, max-age=31536000, immutable' : 'no-cache',
        ),
    }),
  );
  server.get('/{*path}', (request, response) => {
    if (!request.accepts('html') || /\.\w+$/.test(request.path))
      return void problem(response, 404, 'not-found', `There is no ${request.path}.`);
    response.setHeader('Cache-Control', 'no-cache').sendFile(join(application, 'index.html'));
  });
  server.use(errorAnswer);
  return server;
}

function releaseService(demo: string) {
  const api = express.Router();
  const signed = signedCatalogueShape.parse(JSON.parse(readFileSync(join(demo, 'catalogue.json'), 'utf8')));
  const {releases} = catalogueShape.parse(JSON.parse(signed.catalogue));
  api.get('/releases', (_, response) => void response.setHeader('Cache-Control', 'no-cache').json(signed));
  api.get('/images/:sha256', (request, response) => {
    const release = releases.find((r) => r.sha256 === request.params.sha256);
    if (!release) return void problem(response, 404, 'unknown-image', 'No release has an image with this digest.');
    response.type('text/plain').setHeader('Cache-Control', 'public, max-age=31536000, immutable');
    createReadStream(join(demo, 'releases', `${release.id}.hex`)).pipe(response);
  });
  api.get('/flight-logs/:name', (request, response) => {
    const name = request.params.name;
    const file = join(demo, 'logs', `${name}.csv`);
    if (!/^[a-z-]+$/.test(name) || !existsSync(file))
      return void problem(response, 404, 'unknown-log', `There is no flight log "${name}".`);
    response.type('text/csv').setHeader('Cache-Control', 'no-cache').sendFile(file);
  });
  api.use((request, response) => void problem(response, 404, 'not-found', `There is no ${request.originalUrl}.`));
  return api;
}

const errorAnswer: ErrorRequestHandler = (error: Error & {status?: number}, _request, response, next) => {
  if (response.headersSent) return next(error);
  const status = error.status ?? 500;
  if (status >= 500) console.error(error);
  problem(
    response,
    status,
    status < 500 ? 'bad-request' : 'server',
    status < 500 ? error.message : 'The server failed; its console says why.',
  );
};
