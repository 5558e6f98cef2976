import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { brotliCompressSync } from 'node:zlib';
import express from 'express';
import request from 'supertest';
import { securityHeaders } from './headers';
import { serveWeb } from './web-files';

let folder: string;
let app: express.Express;
beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'kettle-web-'));
  const script = 'console.log("soft water");';
  const files = {
    'index.html':
      '<html lang="en"><meta name="nonce" content="__NONCE__"><script src="polyfills-A1.js"></script><script src="main-A1.js"></script>',
    'texts.de.1a2b.js': script,
    'texts.pt-BR.3c4d.js': script,
    'main-A1.js': script,
    'main-A1.js.br': brotliCompressSync(script),
    'worker-B2.js': script,
    'kettle.svg': '<svg xmlns="http://www.w3.org/2000/svg"/>',
  };
  for (const [name, content] of Object.entries(files)) writeFileSync(path.join(folder, name), content);
  app = express();
  app.use(...securityHeaders({ isHttps: false }));
  serveWeb(app, folder);
});
afterAll(() => rmSync(folder, { recursive: true }));

const get = (file: string, encoding = 'gzip, br') => request(app).get(file).set('Accept-Encoding', encoding);

test('a script comes in its small form to whoever reads it, and for a year', async () => {
  const small = await get('/main-A1.js');
  expect(small.headers).toMatchObject({
    'content-encoding': 'br',
    'content-type': 'text/javascript; charset=UTF-8',
    'cache-control': 'public, max-age=31536000, immutable',
    'x-content-type-options': 'nosniff',
  });
  const plain = await get('/main-A1.js', 'identity');
  expect([plain.headers['content-encoding'], plain.text]).toEqual([undefined, 'console.log("soft water");']);
});

test('only what can be a document or a worker carries the policy of the page', async () => {
  const policy = async (file: string) => (await get(file)).headers['content-security-policy'] !== undefined;
  const held: Record<string, boolean> = {};
  for (const file of ['/main-A1.js', '/worker-B2.js', '/kettle.svg', '/people'])
    held[file] = await policy(file);
  expect(held).toEqual({ '/main-A1.js': false, '/worker-B2.js': true, '/kettle.svg': true, '/people': true });
});

test('any other address is the one page with a nonce of its own; a file that is not there is none', async () => {
  const nonces = await Promise.all(['/people', '/deals/1'].map(async (each) => (await get(each)).text));
  expect(new Set(nonces).size).toBe(2);
  expect(nonces.join('')).not.toContain('__NONCE__');
  expect((await get('/main-OLD.js')).status).not.toBe(200);
});

test.each([
  ['de-AT,de;q=0.9', 'de', 'texts.de.1a2b.js'],
  ['fr;q=0.9,pt-BR;q=0.8', 'pt-BR', 'texts.pt-BR.3c4d.js'],
  ['en-GB,de;q=0.5', 'en', undefined],
  ['ja', 'en', undefined],
])(
  'a browser that reads %s gets the page in %s, its texts before the application',
  async (reads, language, texts) => {
    const reply = await get('/people').set('Accept-Language', reads);
    expect(reply.text).toContain(`<html lang="${language}">`);
    const scripts = [...reply.text.matchAll(/src="([^"]+)"/g)].map(([, name]) => name);
    expect(scripts).toEqual(['polyfills-A1.js', ...(texts === undefined ? [] : [texts]), 'main-A1.js']);
    expect(reply.headers.vary).toContain('Accept-Language');
  },
);
