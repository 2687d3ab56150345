import {fileURLToPath} from 'node:url';
import {createServer} from './app';

const port = Number(process.env['PORT'] ?? 4310);
if (!Number.isInteger(port) || port < 1 || port > 65_535) {
  console.error(`PORT is "${process.env['PORT']}"; it must be a number from 1 to 65535.`);
  process.exit(2);
}
const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));
const listener = createServer({application: at('../dist/app/browser'), demo: at('../demo')}).listen(
  port,
  '127.0.0.1',
  (error?: Error) => {
    if (!error) console.log(`Bidex is at http://127.0.0.1:${port}`);
  },
);
listener.on('error', (error: NodeJS.ErrnoException) => {
  console.error(
    error.code === 'EADDRINUSE'
      ? `Port ${port} is taken by another program. Stop it, or choose another port: PORT=4311 npm start`
      : `The server could not start: ${error.message}`,
  );
  process.exit(1);
});
/** Clients get this long to take their answers; then their connections are closed. */
const graceMs = 1_000;
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    listener.close(() => process.exit(0));
    listener.closeIdleConnections();
    setTimeout(() => {
      listener.closeAllConnections();
      process.exit(0);
    }, graceMs);
  });
