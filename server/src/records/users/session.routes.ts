import { planAbsence, readAbsences, readStandsInFor, removeAbsence } from './absences';
import { addDays, localDate } from '@kettle/core/time';
import type { Session } from '@kettle/contract';
import type { Request, Response } from 'express';
import type { Handlers } from '../../platform/http/bind-routes';
import { bytesOf, idOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { isAtLeast } from '@kettle/core/rights';
import { noteSecurity } from '../security/index';
import { countDemoAccounts } from './demo-accounts';
import {
  closeSession,
  cookieOptions,
  deviceOf,
  openSession,
  isHttps,
  readSignedIn,
  sessionCookieName,
  tokenOf,
} from './session';
import { makeLimiters, signIn } from './sign-in';
import { addFirstAdmin, needsAdmin, readPerson } from './users';
import { readCurrencies } from '../settings/index';
import { mergeChange } from '../../platform/work/merge-change';
import { work, writingAt } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

type Names =
  | 'doorstep'
  | 'signIn'
  | 'createFirstAdmin'
  | 'session'
  | 'signOut'
  | 'changeMyHours'
  | 'listColleagues'
  | 'listAbsences'
  | 'planAbsence'
  | 'removeAbsence';

/** The demo's password; only people made by the demo generator have it, and `demo_words` marks them. */
export const demoPassword = 'copper kettle on the hob';

/** Days ahead of which the browser knows the holidays: whatever is planned by hand. */
const holidaysShown = 460;

const hoursFields = {
  zone: { column: 'zone' },
  country: { column: 'country' },
  hours: { column: 'hours', read: (text: string | null): unknown => JSON.parse(text ?? 'null') },
};

export function sessionRoutes(services: Services): Pick<Handlers, Names> {
  const { database, clock, settings, feed, calendars } = services;
  const limiters = makeLimiters(database);

  const sessionOf = async (userId: Session['person']['id']): Promise<Session> => {
    const { organisation, rights, round } = await settings.read(database);
    const { role, reach, needsSecondFactor } = await readSignedIn(database, userId, clock.now());
    // Asked before anything else is read: what changes from here on, the stream tells.
    const lastChange = await feed.newest();
    const person = await readPerson(database, userId);
    const today = localDate(clock.now(), person.zone);
    return {
      lastChange,
      person,
      now: clock.now(),
      currency: organisation.currency,
      currencies: await readCurrencies(database, organisation.currency),
      holidays: Object.fromEntries(
        [...calendars.of(person, organisation).holidays].filter(
          ([day]) => day >= today && day <= addDays(today, holidaysShown),
        ),
      ),
      minutes: round.minutes,
      standsInFor: await readStandsInFor(database, userId, clock.now()),
      rights: {
        changes: reach.changes === 'everybody' ? null : ([...reach.changes] as Session['person']['id'][]),
        exports: isAtLeast(role, rights.exports),
        releases: isAtLeast(role, rights.releases),
      },
      needsSecondFactor,
      demoAccounts: role === 'admin' ? await countDemoAccounts(database) : 0,
    };
  };
  const begin = async (userId: Session['person']['id'], request: Request, response: Response) => {
    const { accounts } = await settings.read(database);
    const token = await openSession(services, userId, deviceOf(request));
    response.cookie(sessionCookieName(services), token, cookieOptions(services, accounts.absoluteDays));
    return sessionOf(userId);
  };

  return {
    doorstep: async () => {
      const people = await database.rows<Row<'app_user', 'name' | 'email' | 'role'> & { demo_words: string }>(
        `SELECT name, email, role, demo_words FROM app_user
          WHERE demo_words IS NOT NULL AND deactivated_at IS NULL ORDER BY role, name, id`,
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
      const person = await signIn(services, limiters, {
        ...body,
        address: request.ip ?? 'unknown',
        device: deviceOf(request),
      });
      return begin(person.id, request, response);
    },
    createFirstAdmin: async ({ body, request, response }) =>
      begin(await addFirstAdmin(services, body), request, response),
    session: async ({ who }) => sessionOf(who.id),
    signOut: async ({ request, response, who }) => {
      const token = tokenOf(services, request);
      if (token !== null) await closeSession(database, token);
      response.clearCookie(sessionCookieName(services), { path: '/', secure: isHttps(services) });
      await noteSecurity(writingAt(database, clock.now()), {
        kind: 'signed-out',
        userId: who.id,
        address: request.ip,
      });
      return { ok: true };
    },
    changeMyHours: async ({ body, who }) => {
      await work(services, who, async (w) => {
        await w.rows('SELECT 1 FROM app_user WHERE id = :id FOR UPDATE', { id: bytesOf(who.id) });
        const record = await readPerson(w, who.id);
        const change = { table: 'app_user', id: who.id, fields: hoursFields, asked: body, record };
        const { zone, country, hours } = await mergeChange(w, change);
        await w.change(
          'UPDATE app_user SET zone = :zone, country = :country, hours = :hours, version = version + 1 WHERE id = :id',
          {
            id: bytesOf(who.id),
            zone,
            country,
            hours: JSON.stringify(hours),
          },
        );
        w.say($localize`My working hours changed`);
      });
      return readPerson(database, who.id);
    },
    listAbsences: async () => ({ absences: await readAbsences(database, clock.now()) }),
    planAbsence: ({ body, who }) => work(services, who, (w) => planAbsence(w, body)),
    removeAbsence: async ({ params: { id }, who }) => {
      await work(services, who, (w) => removeAbsence(w, id));
      return { ok: true };
    },
    listColleagues: async () => {
      const rows = await database.rows<Row<'app_user', 'id' | 'name' | 'role'>>(
        'SELECT id, name, role FROM app_user WHERE deactivated_at IS NULL ORDER BY name, id',
      );
      return { people: rows.map((row) => ({ id: idOf(row.id), name: row.name, role: row.role })) };
    },
  };
}
