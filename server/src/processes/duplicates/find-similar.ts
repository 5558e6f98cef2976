import { addTo } from '../../platform/add-to';
import type { SimilarContact, LikeDraft, LikelyPair } from '@kettle/contract';
import { companyKey, type Identity, nameKey } from '@kettle/core/duplicates';
import { readPhone } from '@kettle/core/phone';
import type { Queryable, SqlParameters } from '../../platform/database/database';
import { bytesOf, type IdBytes } from '../../platform/ids';
import { readContactRows } from '../../records/contacts/index';
import { readableIds } from '../../records/rights/index';
import type { SignedIn } from '../../records/users/index';
import { likeOrNull, readIdentities } from './identities';
import type { Row } from '../../platform/database/schema.generated';

const mostShown = 5;
const mostCandidates = 200;

/** Contacts that are likely the same as somebody being typed in, best first. Asks only indexes. */
export async function findSimilarContacts(
  db: Queryable,
  who: SignedIn,
  draft: LikeDraft,
): Promise<SimilarContact[]> {
  const phone = readPhone(draft.phone, draft.country)?.e164 ?? '';
  const identity: Identity = {
    givenName: draft.givenName,
    familyName: draft.familyName,
    companies: draft.companyName ? [draft.companyName] : [],
    emails: draft.email ? [draft.email.toLowerCase()] : [],
    phones: phone ? [phone] : [],
  };
  const found = (await candidatesFor(db, identity)).filter(
    (id) => !draft.except || !id.equals(bytesOf(draft.except)),
  );
  const ids = await readableIds(db, who, 'contact', found);
  const identities = await readIdentities(db, ids);
  const like = ids
    .flatMap((id) => {
      const other = identities.get(id.toString('hex'));
      const pair = other && likeOrNull(identity, other);
      return pair ? [{ id, ...pair }] : [];
    })
    .sort((a, b) => b.score - a.score)
    .slice(0, mostShown);
  const rows = await readContactRows(
    db,
    like.map((each) => each.id),
  );
  return like.flatMap(({ id, likeness, score, evidence }) => {
    const contact = rows.find((row) => bytesOf(row.id).equals(id));
    return contact ? [{ contact, likeness, score, evidence: [...evidence] }] : [];
  });
}

async function candidatesFor(db: Queryable, one: Identity): Promise<Buffer[]> {
  const found = new Map<string, Buffer>();
  const ask = async (sql: string, parameters: SqlParameters) => {
    for (const row of await db.rows<{ id: IdBytes }>(`${sql} LIMIT ${mostCandidates}`, parameters))
      found.set(row.id.toString('hex'), row.id);
  };
  const values = [...one.emails, ...one.phones];
  if (one.emails.length > 0)
    await ask('SELECT id FROM contact WHERE email IN (:emails)', { emails: one.emails });
  if (one.phones.length > 0)
    await ask('SELECT id FROM contact WHERE phone IN (:phones)', { phones: one.phones });
  if (values.length > 0)
    await ask('SELECT contact_id AS id FROM contact_point WHERE value IN (:values)', { values });
  const firm = one.companies[0];
  if (firm) {
    const [firstWord = ''] = companyKey(firm).split(' ');
    await ask(
      'SELECT c.id FROM company co JOIN contact c ON c.company_id = co.id WHERE co.name_key = :key OR co.name_key LIKE :begins',
      // The same firm under another legal form begins with the same word.
      { key: companyKey(firm), begins: firstWord.length < 4 ? companyKey(firm) : `${firstWord}%` },
    );
  }
  return [...found.values()];
}

/** Pairs from each way two records come to be: one address, one number, one name at one firm, like names at one firm. */
const pairings: readonly string[] = [
  `SELECT a.id AS one, b.id AS other FROM contact a JOIN contact b ON b.email = a.email AND b.id > a.id
    WHERE a.email IS NOT NULL`,
  `SELECT a.id AS one, b.id AS other FROM contact a JOIN contact b ON b.phone = a.phone AND b.id > a.id
    WHERE a.phone IS NOT NULL AND LEFT(a.sort_name, 2) = LEFT(b.sort_name, 2)`,
  `SELECT a.id AS one, b.id AS other FROM contact a JOIN contact b ON b.company_id = a.company_id AND b.id > a.id
    WHERE a.company_id IS NOT NULL AND (LEFT(a.family_name, 1) = LEFT(b.family_name, 1)
       OR LEFT(a.given_name, 1) = LEFT(b.family_name, 1))`,
  `SELECT p.contact_id AS one, c.id AS other FROM contact_point p JOIN contact c ON c.email = p.value OR c.phone = p.value
    WHERE p.kind <> 'link' AND c.id <> p.contact_id`,
];
const pairsAsked = 3000;
const pairsShown = 100;

/** Likely pairs of the whole house, best first, without those a person found to be two. */
export async function findPairs(db: Queryable, who: SignedIn): Promise<LikelyPair[]> {
  const dismissed = new Set(
    (
      await db.rows<Row<'not_duplicate', 'one_id' | 'other_id'>>('SELECT one_id, other_id FROM not_duplicate')
    ).map((row) => pairKey(row.one_id, row.other_id)),
  );
  const asked = new Map<string, { one: Buffer; other: Buffer }>();
  for (const sql of pairings)
    for (const row of await db.rows<{ one: IdBytes; other: IdBytes }>(`${sql} LIMIT ${pairsAsked}`)) {
      const key = pairKey(row.one, row.other);
      if (!dismissed.has(key)) asked.set(key, row);
    }
  const all = [
    ...new Map(
      [...asked.values()].flatMap(({ one, other }) => [one, other]).map((id) => [id.toString('hex'), id]),
    ).values(),
  ];
  // A pair of which one half may not be read has no identity here, and is none.
  const ids = await readableIds(db, who, 'contact', all);
  const identities = await readIdentities(db, ids);
  const like = [...asked.values()]
    .flatMap(({ one, other }) => {
      const [a, b] = [identities.get(one.toString('hex')), identities.get(other.toString('hex'))];
      const pair = a && b && likeOrNull(a, b);
      return pair ? [{ one, other, ...pair }] : [];
    })
    .sort((a, b) => b.score - a.score || a.one.compare(b.one))
    .slice(0, pairsShown);
  const rows = await readContactRows(
    db,
    like.flatMap(({ one, other }) => [one, other]),
  );
  const byId = new Map(rows.map((row) => [bytesOf(row.id).toString('hex'), row]));
  return like.flatMap(({ one, other, likeness, score, evidence }) => {
    const [a, b] = [byId.get(one.toString('hex')), byId.get(other.toString('hex'))];
    return a && b ? [{ one: a, other: b, likeness, score, evidence: [...evidence] }] : [];
  });
}

export function pairKey(one: Buffer, other: Buffer): string {
  return [one.toString('hex'), other.toString('hex')].sort().join(' ');
}

/** Ordered as the table of dismissed pairs keeps them. */
export function inOrder(oneId: string, otherId: string): { one: Buffer; other: Buffer } {
  const [one, other] = [bytesOf(oneId), bytesOf(otherId)];
  return one.compare(other) < 0 ? { one, other } : { one: other, other: one };
}

const firmsAtOnce = 500;

/** Who at its own company a draft of a file is likely to be, by the draft's line; those the same import wrote are not asked. */
export async function findSimilarInCompanies(
  db: Queryable,
  drafts: readonly (Pick<Identity, 'givenName' | 'familyName'> & {
    line: number;
    company: string;
    email: string;
    phone: string;
  })[],
  importId: string,
): Promise<Map<number, { readonly words: string; readonly id: IdBytes }>> {
  const likely = new Map<number, { readonly words: string; readonly id: IdBytes }>();
  const draftsOf = new Map<string, (typeof drafts)[number][]>();
  for (const draft of drafts) {
    if (!draft.company || !nameKey(`${draft.givenName}${draft.familyName}`)) continue;
    addTo(draftsOf, companyKey(draft.company), draft);
  }
  const firms = [...draftsOf.keys()];
  for (let from = 0; from < firms.length; from += firmsAtOnce) {
    const asked = firms.slice(from, from + firmsAtOnce);
    const rows = await db.rows<Row<'contact', 'id'> & Row<'company', 'name_key'>>(
      `SELECT c.id, co.name_key FROM company co JOIN contact c ON c.company_id = co.id
        WHERE co.name_key IN (:firms) AND NOT (c.import_id <=> :import)`,
      { firms: asked, import: bytesOf(importId) },
    );
    const identities = await readIdentities(
      db,
      rows.map((row) => row.id),
    );
    const peopleOf = new Map<string, (Identity & { readonly id: IdBytes })[]>();
    for (const { id, name_key } of rows) {
      const person = identities.get(id.toString('hex'));
      if (person) addTo(peopleOf, name_key, { ...person, id });
    }
    for (const firm of asked)
      for (const draft of draftsOf.get(firm) ?? []) {
        const own: Identity = {
          ...draft,
          companies: [draft.company],
          emails: draft.email ? [draft.email] : [],
          phones: draft.phone ? [draft.phone] : [],
        };
        for (const other of peopleOf.get(firm) ?? []) {
          const pair = likeOrNull(own, other);
          if (pair)
            likely.set(draft.line, {
              words: `${other.givenName} ${other.familyName}: ${pair.evidence.map((each) => each.words).join(', ')}`,
              id: other.id,
            });
        }
      }
  }
  return likely;
}
