import type { AddressInfo } from 'node:net';
import { createServer } from 'node:http';
import request from 'supertest';
import { makeApp } from '../../app';
import { streamChanges } from '../change-feed/changes.routes';
import { install, password, type Installation } from '../../../testing/installation';

let installation: Installation;
afterEach(() => installation.close());

const sign = async (app: ReturnType<typeof makeApp>, origin: string) => {
  const rep = await installation.as('rep');
  const admin = await installation.as('admin');
  const { accounts } = await admin.ok('listAccounts');
  const { email } = accounts.find(({ id }) => id === rep.id)!;
  return request(app).post('/api/session').set('Origin', origin).send({ email, password });
};

describe('where people reach the server by https', () => {
  beforeEach(async () => {
    installation = await install({ publicOrigin: 'https://kettle.test' });
  });

  test('the cookie is secure, for this host alone, and the browser is told never to come without', async () => {
    const app = makeApp(installation.services, { publicOrigin: 'https://kettle.test' });
    const response = await sign(app, 'https://kettle.test');
    const [cookie] = response.get('Set-Cookie')!;
    expect(cookie).toMatch(
      /^__Host-kettle_session=[\w-]{43}; Max-Age=1209600; Path=\/; .*HttpOnly; Secure; SameSite=Strict$/,
    );
    expect(response.headers['strict-transport-security']).toBe('max-age=31536000');
    const [pair] = cookie!.split(';');
    expect((await request(app).get('/api/session').set('Cookie', pair!)).status).toBe(200);
    // A cookie of the plain name, which any page of a sister host could set, signs nobody in.
    const planted = pair!.replace('__Host-', '');
    expect((await request(app).get('/api/session').set('Cookie', planted)).status).toBe(401);
  });
});

describe('the door', () => {
  beforeEach(async () => {
    installation = await install();
  });

  test('without https no browser is told to come with it', async () => {
    const response = await sign(installation.app, 'http://kettle.test');
    expect(response.get('Set-Cookie')![0]).not.toMatch(/Secure/);
    expect(response.headers['strict-transport-security']).toBeUndefined();
  });

  test('a name this server does not go by is refused', async () => {
    const app = makeApp(installation.services, { hosts: ['kettle.test'] });
    const get = (host: string) => request(app).get('/api/health').set('Host', host);
    expect((await get('kettle.test:4300')).status).toBe(200);
    expect((await get('KETTLE.test')).status).toBe(200);
    expect((await get('rebound.example')).body).toMatchObject({ code: 'wrong-host', status: 421 });
  });

  test('a visitor’s address is taken from a trusted proxy, and from nobody else', async () => {
    const tries = async (trustedProxies: readonly string[]) => {
      const app = makeApp(installation.services, { publicOrigin: 'http://kettle.test', trustedProxies });
      const codes: string[] = [];
      for (let n = 0; n < 12; n += 1) {
        const response = await request(app)
          .post('/api/session')
          .set('Origin', 'http://kettle.test')
          .set('X-Forwarded-For', `203.0.113.${n}`)
          .send({ email: `somebody-${trustedProxies.length}@x.example`, password: 'wrong' });
        codes.push((response.body as { code: string }).code);
      }
      return codes.indexOf('too-many-tries');
    };
    expect(await tries(['loopback'])).toBe(-1);
    expect(await tries([])).toBe(10);
  });

  test('what one person asks for in an hour has a limit, and others still may', async () => {
    const [rep, other] = [await installation.as('rep'), await installation.as('rep')];
    const statuses = [];
    for (let n = 0; n < 31; n += 1) statuses.push((await rep.call('exportContacts')).status);
    expect(statuses.slice(29)).toEqual([200, 429]);
    expect((await other.call('exportContacts')).status).toBe(200);
  });

  test('the live stream ends with its session, and an open page does not keep it', async () => {
    const rep = await installation.as('rep');
    let asked = 0;
    const handler = streamChanges(
      installation.services,
      async () => {
        asked += 1;
        return asked < 2 ? ({ id: rep.id } as never) : null;
      },
      20,
    );
    const server = createServer((incoming, response) => {
      const express = Object.assign(response, {
        set: (headers: Record<string, string>) => {
          for (const [name, value] of Object.entries(headers)) response.setHeader(name, value);
        },
      });
      const call = {
        query: {},
        request: Object.assign(incoming, { get: () => undefined }),
        response: express,
      };
      void handler({ ...call, who: { id: rep.id, reach: { reads: 'everybody' } } } as never);
    }).listen(0, '127.0.0.1');
    await new Promise((resolve) => server.once('listening', resolve));
    const { port } = server.address() as AddressInfo;
    const text = await (await fetch(`http://127.0.0.1:${port}/`)).text();
    expect(text).toContain(': still here');
    expect(asked).toBe(2);
    server.close();
  });
});
