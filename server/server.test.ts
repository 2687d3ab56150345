import type {AddressInfo} from 'node:net';
import {spawn} from 'node:child_process';
import {once} from 'node:events';
import {cpSync, mkdtempSync, writeFileSync} from 'node:fs';
import {get} from 'node:http';
import {connect} from 'node:net';
import {tmpdir} from 'node:os';
import {join} from 'node:path';
import {fileURLToPath} from 'node:url';
import {afterAll, describe, expect, it} from 'vitest';
import {openCatalogue, sha256Hex} from '@core/firmware/releases';
import {createServer} from './app';

const application = mkdtempSync(join(tmpdir(), 'bidex-'));
writeFileSync(join(application, 'index.html'), '<!doctype html><title>Bidex</title>');
writeFileSync(join(application, 'main-ABCDEFGH.js'), '1');
const server = createServer({application, demo: fileURLToPath(new URL('../demo', import.meta.url))}).listen(
  0,
  '127.0.0.1',
);
const base = () => `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
afterAll(() => server.close());

describe('the server', () => {
  it('sends the signed catalogue and every image of it', async () => {
    const opened = openCatalogue(await (await fetch(`${base()}/api/releases`)).json());
    if (!opened.ok) throw new Error(opened.problem.meaning);
    for (const {sha256} of opened.value.releases) {
      const response = await fetch(`${base()}/api/images/${sha256}`);
      expect(sha256Hex(new Uint8Array(await response.arrayBuffer()))).toBe(sha256);
      expect(response.headers.get('cache-control')).toContain('immutable');
    }
  });

  it.each([
    ['/api/images/00', 'unknown-image'],
    ['/api/nothing', 'not-found'],
    ['/api/flight-logs/..%2F..%2Fpackage', 'unknown-log'],
    ['/missing.js', 'not-found'],
  ])('%s is a JSON error', async (path, code) => {
    const response = await fetch(base() + path);
    expect(response.status).toBe(404);
    expect(await response.json()).toMatchObject({error: {code}});
  });

  it.each(['__proto__', 'constructor', 'toString', 'nonsense'])('?as=%s is the right catalogue', async (as) => {
    const opened = openCatalogue(await (await fetch(`${base()}/api/releases?as=${as}`)).json());
    expect(opened.ok).toBe(true);
  });

  it('a missing file of a misbehaviour leaves the right catalogue whole', async () => {
    const demo = mkdtempSync(join(tmpdir(), 'bidex-demo-'));
    cpSync(fileURLToPath(new URL('../demo/catalogue.json', import.meta.url)), join(demo, 'catalogue.json'));
    const lean = createServer({application, demo}).listen(0, '127.0.0.1');
    await once(lean, 'listening');
    const at = `http://127.0.0.1:${(lean.address() as AddressInfo).port}/api/releases`;
    expect(openCatalogue(await (await fetch(at)).json()).ok).toBe(true);
    const older = await fetch(`${at}?as=older`);
    expect([older.status, await older.text()]).toEqual([500, expect.not.stringContaining(demo)]);
    lean.close();
  });

  it.each(['/%E0%A4%A', '/..%2f..%2fetc%2fpasswd', '/main-ABCDEFGH.js/x', '/api/flight-logs/missing'])(
    '%s names no folder of this computer',
    async (path) => {
      const response = await fetch(base() + path);
      const text = await response.text();
      expect(text).not.toContain(application);
      expect(text).not.toContain(tmpdir());
    },
  );

  it('answers to its own names only: a page elsewhere that points its name here gets nothing', async () => {
    const ask = (host: string) =>
      new Promise<number>((resolve, reject) => {
        const {port} = server.address() as AddressInfo;
        get({host: '127.0.0.1', port, path: '/api/releases', headers: {host}}, (response) => {
          response.resume();
          resolve(response.statusCode ?? 0);
        }).on('error', reject);
      });
    expect(await Promise.all(['localhost:4310', '127.0.0.1', '[::1]:80', 'LOCALHOST'].map(ask))).toEqual([
      200, 200, 200, 200,
    ]);
    expect(await Promise.all(['bench.example', 'localhost.example', '127.0.0.1.example:4310'].map(ask))).toEqual([
      421, 421, 421,
    ]);
  });

  it('ends within 2 s of being told to, whatever clients do', async () => {
    const child = spawn(process.execPath, ['--import', 'tsx', 'server/main.ts'], {
      cwd: fileURLToPath(new URL('..', import.meta.url)),
      env: {...process.env, PORT: '4397'},
    });
    await new Promise<void>((resolve) => child.stdout.on('data', () => resolve()));
    // A client that never ends its request, and one that keeps its connection open.
    const slow = connect(4397, '127.0.0.1');
    slow.on('error', () => undefined);
    slow.write('GET /api/releases HTTP/1.1\r\nHost: localhost\r\n');
    await fetch('http://127.0.0.1:4397/api/releases', {headers: {connection: 'keep-alive'}});
    const began = Date.now();
    child.kill('SIGTERM');
    await new Promise((resolve) => child.on('exit', resolve));
    slow.destroy();
    expect(Date.now() - began).toBeLessThan(2_000);
  });

  it('allows no inline script and no outside origin', async () => {
    const policy = (await fetch(base(), {headers: {accept: 'text/html'}})).headers.get('content-security-policy')!;
    expect(policy).toContain("default-src 'none'");
    expect(policy).toContain("script-src 'self';");
    // A bridge on this computer, at any port of it, and nothing else.
    expect(policy).toContain("connect-src 'self' ws://127.0.0.1:*;");
    expect(policy.replace('ws://127.0.0.1:*', '')).not.toMatch(/https?:|wss?:|unsafe-eval|\*/);
  });

  it('keeps hashed files for ever, and asks again for the page at any station', async () => {
    expect((await fetch(`${base()}/main-ABCDEFGH.js`)).headers.get('cache-control')).toContain('immutable');
    const page = await fetch(`${base()}/craft/juniper/noise`, {headers: {accept: 'text/html'}});
    expect([page.status, page.headers.get('cache-control'), await page.text()]).toEqual([
      200,
      'no-cache',
      expect.stringContaining('Bidex'),
    ]);
  });
});
