import type { ContactId } from '@kettle/contract';
import { type Colleague, type KnownDeal, type KnownPerson, readJot } from '@kettle/core/jot';
import { nameKey } from '@kettle/core/duplicates';
import type { Queryable } from '../../platform/database/database';
import type { Handlers } from '../../platform/http/bind-routes';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { reachParameters, withinReach } from '../../records/rights/index';
import type { SignedIn } from '../../records/users/index';
import type { Row, Tables } from '../../platform/database/schema.generated';
import { work } from '../../platform/work/work';
import { saveJot } from './save-jot';

/** Words so common in a line that they would only bring strangers. */
const common = new Set(
  'the and for with about call called spoke talked met left message from him her them they wants want next this that then note mail email text visit visited meeting today tomorrow yesterday monday tuesday wednesday thursday friday saturday sunday asked send sent answer price offer back again'.split(
    ' ',
  ),
);
const mostCandidates = 300;
const mostWords = 12;

export function jotRoutes(services: Services): Pick<Handlers, 'readJot' | 'saveJot'> {
  const { database, clock, settings } = services;
  return {
    saveJot: ({ body, who }) => work(services, who, (w) => saveJot(w, body)),
    readJot: async ({ body, who }) => {
      const { outcomes } = await settings.read(database);
      const about =
        body.aboutId === undefined
          ? []
          : await readKnown(database, who, 'c.id = :id', { id: bytesOf(body.aboutId) });
      const deals = await findDeals(database, who, body.line);
      const ofDeals = deals.flatMap(({ contactId }) => bytesOf(contactId) ?? []);
      const theirs =
        ofDeals.length === 0 ? [] : await readKnown(database, who, 'c.id IN (:ids)', { ids: ofDeals });
      const named = await findKnown(database, who, body.line);
      return readJot(body.line, {
        now: clock.now(),
        zone: who.zone,
        country: who.country,
        known: [...named, ...theirs.filter(({ id }) => named.every((each) => each.id !== id))],
        outcomes: outcomes.list,
        colleagues: await readColleagues(database, who),
        deals,
        about: about[0] ?? null,
        answers: body.answers,
      });
    },
  };
}

/** Who else works here. */
async function readColleagues(db: Queryable, who: SignedIn): Promise<Colleague[]> {
  const rows = await db.rows<Row<'app_user', 'id' | 'name'>>(
    'SELECT id, name FROM app_user WHERE deactivated_at IS NULL AND id <> :me ORDER BY name LIMIT 500',
    { me: bytesOf(who.id) },
  );
  return rows.map(({ id, name }) => ({ id: idOf(id), name }));
}

const mostDeals = 60;

/** Open deals whose name, or whose company's, has a word of the line; asked only of a line that speaks of a deal. */
async function findDeals(db: Queryable, who: SignedIn, line: string): Promise<KnownDeal[]> {
  if (!/\b(?:deal|order|contract|quote)\b/i.test(line)) return [];
  const words = [...new Set(nameKey(line).split(' '))].filter((word) => word.length > 2 && !common.has(word));
  const asked = words.slice(0, mostWords);
  if (asked.length === 0) return [];
  const likes = asked.map((_, index) => `d.name LIKE :w${index} OR co.name LIKE :w${index}`).join(' OR ');
  const rows = await db.rows<
    Row<'deal', 'id' | 'name' | 'contact_id'> & { company_name: Tables['company']['name'] | null }
  >(
    `SELECT d.id, d.name, d.contact_id, co.name AS company_name FROM deal d LEFT JOIN company co ON co.id = d.company_id
      WHERE d.status = 'open' AND (${likes}) AND ${withinReach(who, 'deal', 'd')} ORDER BY d.changed_at DESC LIMIT ${mostDeals}`,
    {
      ...reachParameters(who),
      ...Object.fromEntries(asked.map((word, index) => [`w${index}`, `%${word}%`])),
    },
  );
  return rows.map((row) => ({
    id: idOf(row.id),
    name: row.name,
    contactId: idOrNull(row.contact_id),
    companyName: row.company_name,
  }));
}

/** Whoever the line could name: any of its words is one of their names. Misspelt ones are found by their first letters. */
async function findKnown(db: Queryable, who: SignedIn, line: string): Promise<KnownPerson[]> {
  const words = [
    ...new Set(
      nameKey(line.replace(/['’]s\b/g, ''))
        .split(' ')
        .filter((word) => word.length >= 2 && !common.has(word) && !/^\d+$/.test(word)),
    ),
  ].slice(0, mostWords);
  if (words.length === 0) return [];
  const asked = words
    .flatMap((word) => (word.length >= 5 ? [word, `${word.slice(0, 3)}*`] : [word]))
    .join(' ');
  return readKnown(db, who, 'MATCH (c.search_text) AGAINST (:asked IN BOOLEAN MODE)', { asked });
}

async function readKnown(
  db: Queryable,
  who: SignedIn,
  where: string,
  parameters: Record<string, string | Buffer | readonly Buffer[]>,
): Promise<KnownPerson[]> {
  const rows = await db.rows<
    Row<'contact', 'id' | 'given_name' | 'family_name' | 'company_name'> & { is_mine: number }
  >(
    `SELECT c.id, c.given_name, c.family_name, c.company_name, c.archived_at IS NULL AND c.owner_id <=> :me AS is_mine
       FROM contact c WHERE ${where} AND ${withinReach(who, 'contact', 'c')} LIMIT ${mostCandidates}`,
    { ...reachParameters(who), ...parameters, me: bytesOf(who.id) },
  );
  return rows.map((row) => ({
    id: idOf<ContactId>(row.id),
    givenName: row.given_name,
    familyName: row.family_name,
    companyName: row.company_name,
    isMine: row.is_mine === 1,
  }));
}
