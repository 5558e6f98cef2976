import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { endpoints, problemDetails, problems, routes, sentenceOf, type ProblemCode } from '@kettle/contract';
import request from 'supertest';
import { install, type Installation } from '../../testing/installation';
import { readEnvironment } from './environment';

let installation: Installation;
beforeAll(async () => {
  installation = await install();
});
afterAll(() => installation.close());

const send = (text: string) =>
  request(installation.app)
    .post('/api/session')
    .set('Origin', 'http://kettle.test')
    .set('Content-Type', 'application/json')
    .send(text);

describe('refusals', () => {
  test('are problem details with a code, a sentence and the request’s id', async () => {
    const response = await request(installation.app).get('/api/nowhere');
    expect(response.headers['content-type']).toContain('application/problem+json');
    expect(problemDetails.parse(response.body)).toMatchObject({
      status: 404,
      code: 'no-such-route',
      detail: problems['no-such-route'].sentence,
    });
  });

  test('of what cannot be read or is too large', async () => {
    expect((await send('{"email": ')).body).toMatchObject({ code: 'invalid-json', status: 400 });
    expect((await send(JSON.stringify({ email: 'x'.repeat(600_000) }))).body).toMatchObject({
      code: 'too-large',
      status: 413,
    });
  });

  test('a fault of ours tells nothing of its inside', async () => {
    const { services } = installation;
    const rows = services.database.rows;
    Object.assign(services.database, { rows: () => Promise.reject(new Error('secret table')) });
    const response = await request(installation.app).get('/api/health');
    Object.assign(services.database, { rows });
    expect(response.body).toMatchObject({ code: 'internal', status: 500 });
    expect(response.text).not.toContain('secret');
  });

  test('the catalogue’s sentences fill in their parameters', () => {
    expect(sentenceOf('too-many-tries', { seconds: 30 })).toBe(
      'Too many tries. Wait 30 seconds, then try again.',
    );
  });

  test('every code of the catalogue is raised by some test', () => {
    const written = testFiles(path.join(__dirname, '..', '..'))
      .map((file) => readFileSync(file, 'utf8'))
      .join('\n');
    const missing = (Object.keys(problems) as ProblemCode[]).filter((code) => !written.includes(`'${code}'`));
    expect(missing).toEqual([]);
  });
});

function testFiles(folder: string): string[] {
  return readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((file) => file.endsWith('.test.ts'))
    .map((file) => path.join(folder, file));
}

describe('the description of the API', () => {
  test('names every route with its parts', async () => {
    const { body } = await request(installation.app).get('/api/openapi.json');
    const described = Object.values(
      body.paths as Record<string, Record<string, { operationId: string }>>,
    ).flatMap((each) => Object.values(each).map((operation) => operation.operationId));
    expect(described.sort()).toEqual(Object.keys(endpoints).sort());
    expect(
      body.paths['/api/tasks/{id}/defer'].post.requestBody.content['application/json'].schema.required,
    ).toEqual(['version', 'dueOn']);
    expect(body.paths['/api/session'].post.security).toBeUndefined();
    expect(body.paths['/api/round'].get.security).toEqual([{ session: [] }, { key: ['work:read'] }]);
    expect(body.paths['/api/accounts'].get.security).toEqual([{ session: [] }]);
    expect(Object.keys(body.webhooks)).toContain('deal.moved');
  });

  test('routes that change something are never read by GET', () => {
    for (const name of Object.keys(endpoints) as (keyof typeof endpoints)[])
      if ('body' in routes[name]) expect(endpoints[name]).not.toMatch(/^GET/);
  });
});

describe('settings of the server', () => {
  test('are read with their defaults', () => {
    expect(readEnvironment({ KETTLE_DATABASE_URL: 'mysql://a@b/c', KETTLE_KEY_FILE: '/k' })).toMatchObject({
      KETTLE_PORT: 4300,
      KETTLE_HOST: '127.0.0.1',
    });
  });

  test('that are wrong are each told by name', () => {
    expect(() =>
      readEnvironment({ KETTLE_DATABASE_URL: 'postgres://x', KETTLE_PORT: 'many', KETTLE_NOW: 'noon' }),
    ).toThrow(/KETTLE_DATABASE_URL: .*\n\s*KETTLE_KEY_FILE: .*\n\s*KETTLE_PORT: .*\n\s*KETTLE_NOW: /);
  });
});
