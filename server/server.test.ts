import type {AddressInfo} from 'node:net';
import {mkdtempSync, writeFileSync} from 'node:fs';
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

  it('allows no inline script and no outside origin', async () => {
    const policy = (await fetch(base(), {headers: {accept: 'text/html'}})).headers.get('content-security-policy')!;
    expect(policy).toContain("default-src 'none'");
    expect(policy).toContain("script-src 'self';");
    expect(policy).not.toMatch(/https?:|unsafe-eval|\*/);
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
