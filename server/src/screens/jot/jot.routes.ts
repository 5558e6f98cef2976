import type { ContactId } from '@kettle/contract';
import { readJot, type KnownPerson } from '@kettle/core/jot';
import { nameKey } from '@kettle/core/duplicates';
import type { Queryable } from '../../platform/database/database';
import type { Handlers } from '../../platform/http/bind-routes';
import { bytesOf, idOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { reachParameters, withinReach } from '../../records/rights/index';
import type { SignedIn } from '../../records/users/index';
import type { Row } from '../../platform/database/schema.generated';

/** Words so common in a line that they would only bring strangers. */
const common = new Set(
  'the and for with about call called spoke talked met left message from him her them they wants want next this that then note mail email text visit visited meeting today tomorrow yesterday monday tuesday wednesday thursday friday saturday sunday asked send sent answer price offer back again'.split(
    ' ',
  ),
);
const mostCandidates = 300;
const mostWords = 12;

export function jotRoutes(services: Services): Pick<Handlers, 'readJot'> {
  const { database, clock, settings } = services;
  return {
    readJot: async ({ body, who }) => {
      const { outcomes } = await settings.read(database);
      const about =
        body.aboutId === undefined
          ? []
          : await readKnown(database, who, 'c.id = :id', { id: bytesOf(body.aboutId) });
      return readJot(body.line, {
        now: clock.now(),
        zone: who.zone,
        country: who.country,
        known: await findKnown(database, who, body.line),
        outcomes: outcomes.list,
        about: about[0] ?? null,
        answers: body.answers,
      });
    },
  };
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
  parameters: Record<string, string | Buffer>,
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
