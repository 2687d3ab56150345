/** The server as a value: the built application, the release service stand-in and the demo's flight logs. */
import {join} from 'node:path';
import express, {type ErrorRequestHandler, type Express, type RequestHandler} from 'express';
import helmet from 'helmet';
import {problem} from './problem';
import {releaseService} from './release-service';

interface ServerFolders {
  /** The built application. */
  readonly application: string;
  /** Catalogue, release images and flight logs. */
  readonly demo: string;
}

export function createServer({application, demo}: ServerFolders): Express {
  const server = express();
  server.disable('x-powered-by');
  server.use(knownHosts);
  server.use(policy);
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

/** Nothing but this server's own files runs in the page. */
const policy = helmet({
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
      // A bridge on this computer: docs/bench-link.md, "Over a bridge".
      connectSrc: ["'self'", 'ws://127.0.0.1:*'],
      baseUri: ["'self'"],
      formAction: ["'none'"],
      frameAncestors: ["'none'"],
    },
  },
  strictTransportSecurity: false,
});

/** Names this server is reached by. A page elsewhere that lets its own name point here gets no answer. */
const hosts: ReadonlySet<string> = new Set(['localhost', '127.0.0.1', '[::1]']);

const knownHosts: RequestHandler = (request, response, next) => {
  const name = (request.headers.host ?? '').toLowerCase().replace(/:\d+$/, '');
  if (hosts.has(name)) return next();
  problem(response, 421, 'unknown-host', 'This server answers for localhost and 127.0.0.1 only.');
};

/** Texts of our own: those of the error may name folders of this computer. */
const errorAnswer: ErrorRequestHandler = (error: Error & {status?: number}, _request, response, next) => {
  if (response.headersSent) return next(error);
  const status = error.status ?? 500;
  if (status >= 500) console.error(error);
  if (status === 404) return void problem(response, 404, 'not-found', 'There is nothing at this address.');
  problem(
    response,
    status,
    status < 500 ? 'bad-request' : 'server',
    status < 500 ? 'The request cannot be read.' : 'The server failed; its console says why.',
  );
};
