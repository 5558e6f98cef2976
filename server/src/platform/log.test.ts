import request from 'supertest';
import { makeApp } from '../app';
import { install, type Installation } from '../../testing/installation';
import { makeLog } from './log';

let installation: Installation;
beforeEach(async () => {
  installation = await install();
});
afterEach(() => installation.close());

const secret = 'maud@penrow.example';

function logged() {
  const lines: string[] = [];
  const log = makeLog('debug', { write: (line) => void lines.push(line) });
  return { log, text: () => lines.join('\n') };
}

test('a statement that fails is logged by its code and place, without what it was given', async () => {
  const { log, text } = logged();
  const { database } = installation.services;
  await database
    .change('INSERT INTO no_such_table (email) VALUES (:secret)', { secret })
    .catch((error: unknown) => log.error({ err: error }, 'failed'));
  await database
    .rows(`SELECT * FROM contact WHERE email = :secret AND`, { secret })
    .catch((error: unknown) => log.error({ err: new Error('outer', { cause: error }) }, 'failed'));
  expect(text()).toContain('ER_NO_SUCH_TABLE');
  expect(text()).toContain('ER_PARSE_ERROR');
  expect(text()).toContain('log.test.ts');
  expect(text()).not.toContain(secret);
});

test('a request is logged without its query, its body, its cookie and whoever sent it', async () => {
  const { log, text } = logged();
  const app = makeApp({ ...installation.services, log });
  await request(app).get('/api/contacts').query({ q: secret }).set('Cookie', 'kettle_session=abc');
  await request(app).post('/api/session').set('Origin', 'http://x').send({ email: secret, password: 'p' });
  expect(text()).toContain('"path":"/api/contacts"');
  for (const each of [secret, 'kettle_session', '127.0.0.1', 'password']) expect(text()).not.toContain(each);
});
