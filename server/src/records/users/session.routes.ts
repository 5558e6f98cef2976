import type { Session } from '@kettle/contract';
import type { Request, Response } from 'express';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { closeSession, cookieName, cookieOptions, openSession, tokenOf } from './session';
import { makeLimiters, signIn } from './sign-in';
import { addFirstAdmin, addUser, needsAdmin, readPerson } from './users';
import { readCurrencies } from '../settings/index';
import { work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

type Names =
  | 'doorstep'
  | 'signIn'
  | 'createFirstAdmin'
  | 'session'
  | 'signOut'
  | 'changeMyHours'
  | 'listColleagues'
  | 'createUser';

/** The demo's password; only people made by the demo generator have it, and `demo_words` marks them. */
export const demoPassword = 'copper kettle on the hob';

export function sessionRoutes(services: Services): Pick<Handlers, Names> {
  const { database, clock, settings, feed } = services;
  const limiters = makeLimiters(database);

  const sessionOf = async (userId: Session['person']['id']): Promise<Session> => {
    const { organisation } = await settings.read(database);
    return {
      // Asked before anything else is read: what changes from here on, the stream tells.
      lastChange: await feed.newest(),
      person: await readPerson(database, userId),
      now: clock.now(),
      currency: organisation.currency,
      currencies: await readCurrencies(database, organisation.currency),
    };
  };
  const begin = async (userId: Session['person']['id'], request: Request, response: Response) => {
    response.cookie(cookieName, await openSession(services, userId), cookieOptions(request));
    return sessionOf(userId);
  };

  return {
    doorstep: async () => {
      const people = await database.rows<Row<'app_user', 'name' | 'email' | 'role'> & { demo_words: string }>(
        'SELECT name, email, role, demo_words FROM app_user WHERE demo_words IS NOT NULL ORDER BY role, name, id',
      );
      return {
        needsAdmin: await needsAdmin(database),
        demoPeople: people.map(({ demo_words: words, ...person }) => ({
          ...person,
          words,
          password: demoPassword,
        })),
      };
    },
    signIn: async ({ body, request, response }) => {
      const person = await signIn(services, limiters, { ...body, address: request.ip ?? 'unknown' });
      return begin(person.id, request, response);
    },
    createFirstAdmin: async ({ body, request, response }) =>
      begin(await addFirstAdmin(services, body), request, response),
    session: async ({ who }) => sessionOf(who.id),
    signOut: async ({ request, response }) => {
      const token = tokenOf(request);
      if (token !== null) await closeSession(database, token);
      response.clearCookie(cookieName, { path: '/' });
      return { ok: true };
    },
    changeMyHours: async ({ body, who }) => {
      const changed = await database.change(
        'UPDATE app_user SET zone = :zone, hours = :hours, version = version + 1 WHERE id = :id AND version = :version',
        { id: bytesOf(who.id), version: body.version, zone: body.zone, hours: JSON.stringify(body.hours) },
      );
      const current = await readPerson(database, who.id);
      if (changed === 0) throw new Problem('stale', {}, { current });
      return current;
    },
    listColleagues: async () => {
      const rows = await database.rows<Row<'app_user', 'id' | 'name' | 'role'>>(
        'SELECT id, name, role FROM app_user ORDER BY name, id',
      );
      return { people: rows.map((row) => ({ id: idOf(row.id), name: row.name, role: row.role })) };
    },
    createUser: async ({ body, who }) => {
      const id = await work(services, who, async (w) => {
        const made = await addUser(w, body, clock.now());
        return made;
      });
      return readPerson(database, id);
    },
  };
}
