import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { afterAll, describe, expect, test } from '@jest/globals';
import { createApp } from './app.ts';

const root = mkdtempSync(join(tmpdir(), 'kneader-server-'));
mkdirSync(join(root, 'assets'));
writeFileSync(join(root, 'index.html'), '<title>Kneader</title>');
writeFileSync(join(root, 'assets', 'app-1a2b.js'), 'export {}');
const LARGE = 'export const flour = 1;\n'.repeat(1000);
writeFileSync(join(root, 'assets', 'large-1a2b.js'), LARGE);
const app = await createApp(root);
afterAll(() => app.close());
const get = (url: string) => app.inject({ method: 'GET', url, headers: { host: 'localhost:4173' } });

describe('the server', () => {
  test('every route of the application is the page, asked for again each time', async () => {
    for (const url of ['/', '/pantry', '/shots/dough-toss', '/shots/a%20b?x=1.5']) {
      const response = await get(url);
      expect([response.statusCode, response.body]).toEqual([200, '<title>Kneader</title>']);
      expect(response.headers['cache-control']).toBe('no-cache');
    }
  });

  test('nothing is let in from outside', async () => {
    const policy = (await get('/')).headers['content-security-policy'] as string;
    expect(policy).toContain("default-src 'self'");
    // Of what is evaluated at run time nothing but WebAssembly, which unpacks shapes of characters.
    expect(policy).toContain("script-src 'self' 'wasm-unsafe-eval';");
    expect(policy.replace('wasm-unsafe-eval', '')).not.toMatch(/https?:|\*|unsafe-eval/);
  });

  test('assets may be kept for good; what is not there is not the page; nothing above the folder is served', async () => {
    expect((await get('/assets/app-1a2b.js')).headers['cache-control']).toContain('immutable');
    expect((await get('/assets/gone.js')).statusCode).toBe(404);
    expect((await get('/..%2f..%2fetc/hosts.txt')).body).not.toContain('localhost');
    expect(
      (await app.inject({ method: 'POST', url: '/shots', headers: { host: 'localhost' } })).statusCode,
    ).toBe(404);
  });

  test('what is large goes out compressed, to those who can read it', async () => {
    const headers = { 'accept-encoding': 'gzip', host: 'localhost' };
    const packed = await app.inject({ method: 'GET', url: '/assets/large-1a2b.js', headers });
    expect(packed.headers['content-encoding']).toBe('gzip');
    expect(gunzipSync(packed.rawPayload).toString()).toBe(LARGE);
    expect(packed.rawPayload.length).toBeLessThan(LARGE.length / 10);
    const plain = await get('/assets/large-1a2b.js');
    expect([plain.headers['content-encoding'], plain.body]).toEqual([undefined, LARGE]);
  });

  test('only its own names are answered: a name elsewhere that points here is not', async () => {
    const to = (host: string) => app.inject({ method: 'GET', url: '/', headers: { host } });
    for (const host of ['localhost', 'localhost:4173', '127.0.0.1:80', '[::1]:4173'])
      expect((await to(host)).statusCode).toBe(200);
    for (const host of ['kneader.example', 'localhost.example:4173', '127.0.0.1.example', '10.0.0.7:4173']) {
      const answer = await to(host);
      expect([answer.statusCode, answer.body]).not.toContain('<title>Kneader</title>');
      expect(answer.statusCode).toBe(421);
    }
  });

  test('answers that say no carry the same headers', async () => {
    for (const url of ['/assets/gone.js', '/%E0%A4%A', '/nowhere.txt']) {
      const { statusCode, headers } = await get(url);
      expect(statusCode).toBeGreaterThanOrEqual(400);
      expect(headers['content-security-policy']).toContain("form-action 'none'");
      expect(headers['x-content-type-options']).toBe('nosniff');
    }
  });

  test('the page is never kept, wherever the application lies', async () => {
    const inside = join(root, 'assets', 'somewhere');
    mkdirSync(join(inside, 'assets'), { recursive: true });
    writeFileSync(join(inside, 'index.html'), 'page');
    writeFileSync(join(inside, 'assets', 'a-1.js'), '');
    const other = await createApp(inside);
    const kept = async (url: string) =>
      (await other.inject({ method: 'GET', url, headers: { host: 'localhost' } })).headers['cache-control'];
    expect(await kept('/')).toBe('no-cache');
    expect(await kept('/shots/one')).toBe('no-cache');
    expect(await kept('/assets/a-1.js')).toContain('immutable');
  });

  test('without a built application it says what to run', async () => {
    await expect(createApp(join(root, 'assets'))).rejects.toThrow(/run “npm run build”/);
  });
});

describe('the capture feed', () => {
  const listen = async (url: string, headers: Record<string, string>, most: number) => {
    const heard: Record<string, unknown>[] = [];
    const socket = await app.injectWS(
      url,
      { headers: { host: 'localhost', ...headers } },
      {
        onInit: (made) =>
          made.on('message', (data: Buffer) =>
            heard.push(JSON.parse(String(data)) as Record<string, unknown>),
          ),
      },
    );
    const closed = new Promise<number>((resolve) => socket.on('close', resolve));
    while (heard.length < most && socket.readyState === socket.OPEN)
      await new Promise((resolve) => setTimeout(resolve, 5));
    if (heard.length >= most) socket.terminate();
    return { heard, code: await closed };
  };

  test('says what it is, then sends samples at even times, the same for the same seed', async () => {
    const { heard } = await listen('/feed?seed=3&rate=120', {}, 20);
    expect(heard[0]).toMatchObject({ kind: 'hello', rate: 120 });
    const channels = (heard[0]!['channels'] as string[]).length;
    heard.slice(1, 20).forEach((sample, i) => {
      expect(sample['time']).toBeCloseTo((i * 1000) / 120, 9);
      expect(sample['values']).toHaveLength(channels);
    });
    const again = await listen('/feed?seed=3&rate=120', {}, 6);
    expect(again.heard.slice(0, 6)).toEqual(heard.slice(0, 6));
    const other = await listen('/feed?seed=4&rate=nonsense', {}, 3);
    expect(other.heard[0]).toMatchObject({ rate: 60 });
    expect(other.heard[1]!['values']).not.toEqual(heard[1]!['values']);
  });

  test('a page from elsewhere hears nothing', async () => {
    const { heard, code } = await listen('/feed', { origin: 'http://elsewhere.example' }, 1);
    expect([heard, code]).toEqual([[], 1008]);
  });
});
