import type { CompanyRow, ContactId, CreateContactBody, Standing, StandingCount } from '@kettle/contract';
import type { Queryable } from '../../db/database';
import { instantOrNull, sqlInstant, wholeNumber } from '../../db/values';
import type { Handlers } from '../../http/bind-routes';
import { Problem } from '../../http/problem';
import { bytesOf, idOf, newId, type IdBytes } from '../../ids';
import type { Services } from '../../services';
import { noteChange } from '../changes/feed';
import { readDealRows } from '../deals/deal-rows';
import { refreshTouchFacts } from '../journal/touch-facts';
import { writeSystemEntry } from '../journal/write-entry';
import { assertMayChange } from '../session/rights';
import type { SignedIn } from '../session/session';
import { todayOf } from '../session/today';
import { zoneOfCountry } from '../settings/calendars';
import { contactColumns, contactRowOf, readContact, type ContactColumns } from './contact-rows';
import { listContacts, searchWords, TotalContacts } from './list-contacts';
import { derivedColumns, findOrMakeCompany, insertContact, parsePhone, writeMarks } from './write-contact';

type Names =
  | 'listContacts'
  | 'createContact'
  | 'getContact'
  | 'changeContact'
  | 'listStandings'
  | 'listCompanies'
  | 'getCompany';

export function peopleRoutes(services: Services): Pick<Handlers, Names> {
  const { database, clock, feed, settings } = services;
  const totals = new TotalContacts();

  return {
    listContacts: async ({ query, who }) => ({
      ...(await listContacts(database, query, who, todayOf(services, who))),
      total: await totals.read(database, clock.millis()),
    }),
    getContact: ({ params }) => readContact(database, params.id),
    createContact: async ({ body, who }) => {
      const id = newId<ContactId>();
      await database.transaction(async (tx) => {
        const now = clock.now();
        const standingId = body.standingId ?? (await readDefaultStanding(tx)).id;
        const fields = await resolveFields(tx, services, body, who);
        const rest = {
          ownerId: who.id,
          source: 'by hand',
          about: '',
          checkInDays: body.checkInDays,
          importId: null,
        };
        await insertContact(tx, { ...fields, ...rest, id, standingId }, now);
        await writeMarks(tx, id, body.doNotContact, who.name, now);
        await refreshTouchFacts(tx, services, await settings.read(tx), id);
        await noteChange(tx, 'contact', id, who.id);
      });
      totals.forget();
      feed.poke();
      return readContact(database, id);
    },
    changeContact: async ({ params, body, who }) => {
      await database.transaction(async (tx) => {
        const now = clock.now();
        const before = await readContact(tx, params.id);
        await assertMayChange(tx, who, before.ownerId);
        const fields = await resolveFields(tx, services, body, who);
        const changed = await tx.change(
          `UPDATE contact SET given_name = :givenName, family_name = :familyName, sort_name = :sortName,
                  job_title = :jobTitle, company_id = :companyId, company_name = :companyName,
                  email_unusable = email_unusable AND email <=> :email, email = :email,
                  phone_unusable = phone_unusable AND phone <=> :phone, phone = :phone,
                  country = :country, zone = :zone, check_in_days = :checkInDays, search_text = :searchText,
                  standing_set_at = IF(standing_id = :standingId, standing_set_at, :now), standing_id = :standingId,
                  version = version + 1
            WHERE id = :id AND version = :version`,
          {
            ...derivedColumns(fields),
            id: bytesOf(params.id),
            version: body.version,
            standingId: bytesOf(body.standingId),
            checkInDays: body.checkInDays,
            now: sqlInstant(now),
          },
        );
        if (changed === 0) throw new Problem('stale', {}, { current: before });
        await writeMarks(tx, params.id, body.doNotContact, who.name, now);
        await refreshTouchFacts(tx, services, await settings.read(tx), params.id);
        if (before.standingId !== body.standingId)
          await writeStandingChange(tx, before.standingId, body.standingId, {
            contactId: params.id,
            userId: who.id,
            now,
          });
        await noteChange(tx, 'contact', params.id, who.id);
      });
      feed.poke();
      return readContact(database, params.id);
    },
    listStandings: async ({ who }) => ({
      standings: await countStandings(database, who, todayOf(services, who)),
    }),
    listCompanies: async ({ query }) => {
      const words = searchWords(query.q);
      const match = words.length > 0 ? 'WHERE MATCH (co.name, co.city) AGAINST (:words IN BOOLEAN MODE)' : '';
      const parameters = { words: words.map((word) => `+${word}*`).join(' ') };
      const rows = await readCompanyRows(database, match, parameters, query.limit);
      const [counts] = await database.rows<{ found: string; total: string }>(
        `SELECT (SELECT COUNT(*) FROM company co ${match}) AS found, (SELECT COUNT(*) FROM company) AS total`,
        parameters,
      );
      return { rows, found: wholeNumber(counts?.found ?? 0), total: wholeNumber(counts?.total ?? 0) };
    },
    getCompany: async ({ params, who }) => {
      const id = bytesOf(params.id);
      const [company] = await readCompanyRows(database, 'WHERE co.id = :id', { id }, 1);
      if (!company) throw new Problem('not-found');
      const people = await database.rows<ContactColumns>(
        `SELECT ${contactColumns} FROM contact c LEFT JOIN app_user u ON u.id = c.owner_id
          WHERE c.company_id = :id ORDER BY c.sort_name, c.id LIMIT 200`,
        { id },
      );
      const deals = await readDealRows(database, 'd.company_id = :id', { id }, todayOf(services, who));
      return { company, people: people.map(contactRowOf), deals };
    },
  };
}

/** Company found or made, number in E.164, zone from the country when none was given. */
async function resolveFields(
  tx: Queryable,
  { settings, clock }: Services,
  body: CreateContactBody,
  who: SignedIn,
) {
  const { organisation } = await settings.read(tx);
  const zone =
    body.zone ??
    (body.country === organisation.homeCountry
      ? organisation.homeZone
      : zoneOfCountry(body.country, organisation.homeZone));
  const place = {
    city: null,
    street: null,
    postcode: null,
    website: null,
    country: body.country,
    zone,
    ownerId: who.id,
  };
  const company = body.companyName
    ? await findOrMakeCompany(tx, { name: body.companyName, ...place }, clock.now())
    : null;
  return {
    givenName: body.givenName,
    familyName: body.familyName,
    jobTitle: body.jobTitle,
    companyId: company?.id ?? null,
    companyName: company?.name ?? null,
    email: body.email,
    phone: parsePhone(body.phone, body.country),
    country: body.country,
    zone,
  };
}

interface StandingRow {
  id: IdBytes;
  name: string;
  standing_group: Standing['group'];
  check_in_days: number | null;
  position: number;
}

const standingColumns = 's.id, s.name, s.standing_group, s.check_in_days, s.position';

function standingOf(row: StandingRow): Standing {
  return {
    id: idOf(row.id),
    name: row.name,
    group: row.standing_group,
    checkInDays: row.check_in_days,
    position: row.position,
  };
}

export async function readStandings(db: Queryable): Promise<Standing[]> {
  const rows = await db.rows<StandingRow>(
    `SELECT ${standingColumns} FROM standing s ORDER BY s.position, s.id`,
  );
  return rows.map(standingOf);
}

export async function readDefaultStanding(db: Queryable): Promise<Standing> {
  const [row] = await db.rows<StandingRow>(
    `SELECT ${standingColumns} FROM standing s ORDER BY s.is_default DESC, s.position, s.id LIMIT 1`,
  );
  if (!row) throw new Error('the installation has no standings');
  return standingOf(row);
}

/** Relies on contact_standing. */
async function countStandings(db: Queryable, who: SignedIn, today: string): Promise<StandingCount[]> {
  const rows = await db.rows<StandingRow & { due: string; all: string }>(
    `SELECT ${standingColumns}, COALESCE(SUM(c.next_touch_due < :today), 0) AS due, COUNT(c.id) AS \`all\`
       FROM standing s LEFT JOIN contact c ON c.standing_id = s.id AND (c.owner_id = :me OR c.owner_id IS NULL)
      GROUP BY ${standingColumns} ORDER BY s.position, s.id`,
    { me: bytesOf(who.id), today },
  );
  return rows.map((row) => ({
    standing: standingOf(row),
    due: wholeNumber(row.due),
    all: wholeNumber(row.all),
  }));
}

async function writeStandingChange(
  tx: Queryable,
  from: string,
  to: string,
  entry: { contactId: string; userId: string; now: string },
): Promise<void> {
  const names = new Map((await readStandings(tx)).map((standing) => [standing.id as string, standing.name]));
  await writeSystemEntry(tx, {
    ...entry,
    body: `Standing: ${names.get(from) ?? '?'} → ${names.get(to) ?? '?'}`,
  });
}

async function readCompanyRows(
  db: Queryable,
  where: string,
  parameters: Record<string, string | Buffer>,
  limit: number,
): Promise<CompanyRow[]> {
  const rows = await db.rows<{
    id: IdBytes;
    name: string;
    trade: string | null;
    city: string | null;
    country: string;
    owner_name: string | null;
    people: string;
    open_deals: string;
    open_value: string | null;
    last_touch_at: string | null;
    version: number;
  }>(
    `SELECT co.id, co.name, co.trade, co.city, co.country, u.name AS owner_name, co.version,
            (SELECT COUNT(*) FROM contact c WHERE c.company_id = co.id) AS people,
            (SELECT MAX(c.last_touch_at) FROM contact c WHERE c.company_id = co.id) AS last_touch_at,
            (SELECT COUNT(*) FROM deal d WHERE d.company_id = co.id AND d.status = 'open') AS open_deals,
            (SELECT SUM(d.amount_minor) FROM deal d WHERE d.company_id = co.id AND d.status = 'open') AS open_value
       FROM company co LEFT JOIN app_user u ON u.id = co.owner_id ${where}
      ORDER BY co.name, co.id LIMIT ${limit}`,
    parameters,
  );
  return rows.map((row) => ({
    id: idOf(row.id),
    name: row.name,
    trade: row.trade,
    city: row.city,
    country: row.country,
    ownerName: row.owner_name,
    people: wholeNumber(row.people),
    openDeals: wholeNumber(row.open_deals),
    openValueMinor: wholeNumber(row.open_value),
    lastTouchAt: instantOrNull(row.last_touch_at),
    version: row.version,
  }));
}
