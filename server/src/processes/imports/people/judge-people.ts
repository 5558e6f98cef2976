import type { RowVerdict } from '@kettle/contract';
import { identityKeys, type ContactDraft, type JudgedDraft as ReadDraft } from '@kettle/core/imports';
import { companyKey, compareNames, type PersonName } from '@kettle/core/duplicates';
import { sayDate } from '@kettle/core/time';
import type { Queryable, WithKeys } from '../../../platform/database/database';
import { findErased } from '../../../records/erased/index';
import { findSimilarInCompanies } from '../../duplicates/index';
import type { Row } from '../../../platform/database/schema.generated';
import type { IdBytes } from '../../../platform/ids';
import { readableIds } from '../../../records/rights/index';
import type { SignedIn } from '../../../records/users/index';
import type { JudgedRow } from '../judged-row';

/** A row of a file as somebody, and what is said of it. */
export type JudgedPerson = JudgedRow<ContactDraft>;

const keysAtOnce = 1000;

/** Sets rows against the database and each other: new, likely somebody, known, twice in the file, or wrong. */
export async function judgeDrafts(
  db: WithKeys,
  drafts: readonly ReadDraft[],
  importId: string,
): Promise<JudgedPerson[]> {
  const good = drafts.filter((each) => each.problems.length === 0).map((each) => each.draft);
  const known = await findKnown(db, good);
  const erased = await findErased(db, [
    ...distinct(good.map((draft) => draft.email)),
    ...distinct(good.map((draft) => draft.phone)),
  ]);
  const alike = await findSimilarInCompanies(db, good, importId);
  const seen = new Map<string, ContactDraft>();
  const because = (
    draft: ContactDraft,
    verdict: RowVerdict,
    { reason, id }: { readonly reason: string; readonly id?: IdBytes | undefined },
  ): JudgedPerson => ({
    line: draft.line,
    draft,
    verdict,
    problems: [{ column: 'row', reason }],
    ...(id && { recordId: id }),
  });
  return drafts.map(({ draft, problems }): JudgedPerson => {
    const { line } = draft;
    if (problems.length > 0) return { line, draft, verdict: 'wrong', problems };
    for (const column of ['email', 'phone'] as const) {
      const at = erased.get(draft[column]);
      if (at === undefined) continue;
      const reason = $localize`belongs to somebody who was erased on request on ${sayDate(at.slice(0, 10), at.slice(0, 10))}:slice:: leave them out, or add them by hand if they asked to come back`;
      return { line, draft, verdict: 'wrong', problems: [{ column, reason }] };
    }
    const keys = identityKeys(draft);
    const match = keys.map((key) => known.get(key)).find((each) => each !== undefined);
    if (match !== undefined) {
      const { name, id } = match;
      return isSomebodyElse(draft, match)
        ? because(draft, 'likely', {
            reason: $localize`${name}:name: has this address, under another name`,
            id,
          })
        : because(draft, 'known', { reason: $localize`${name}:name: is here already`, id });
    }
    const first = keys.map((key) => seen.get(key)).find((line) => line !== undefined);
    if (first !== undefined)
      return isSomebodyElse(draft, first)
        ? because(draft, 'likely', {
            reason: $localize`line ${first.line}:first: has this address, under another name`,
          })
        : because(draft, 'twice-in-file', { reason: $localize`the same as line ${first.line}:first:` });
    for (const key of keys) seen.set(key, draft);
    const like = alike.get(draft.line);
    if (like !== undefined) return because(draft, 'likely', { reason: like.words, id: like.id });
    return { line, draft, verdict: 'new', problems: [] };
  });
}

/** Two people may share an address: a name that does not agree is asked about. */
const isSomebodyElse = (one: PersonName, other: PersonName): boolean =>
  ['part', 'differs'].includes(compareNames(one, other));

interface Known extends PersonName {
  readonly name: string;
  /** Of a company there is none. */
  readonly id?: IdBytes;
}

type KnownRow = Row<'contact', 'id' | 'given_name' | 'family_name' | 'company_name' | 'email' | 'phone'>;

/** Names of stored contacts and companies by identity key. Relies on contact_email, contact_phone and contact_sort_name. */
export async function findKnown(db: Queryable, drafts: readonly ContactDraft[]): Promise<Map<string, Known>> {
  const known = new Map<string, Known>();
  const lookUp = async (column: string, values: readonly string[]) => {
    for (let from = 0; from < values.length; from += keysAtOnce) {
      const rows = await db.rows<KnownRow>(
        `SELECT id, given_name, family_name, company_name, email, phone FROM contact WHERE ${column} IN (:values)`,
        { values: values.slice(from, from + keysAtOnce) },
      );
      for (const row of rows) addKnown(known, row);
    }
  };
  await lookUp('email', distinct(drafts.map((draft) => draft.email)));
  await lookUp('phone', distinct(drafts.map((draft) => draft.phone)));
  const bare = drafts.filter((draft) => !draft.email && !draft.phone);
  await lookUp('family_name', distinct(bare.map((draft) => draft.familyName)));
  await lookUpCompanies(
    db,
    bare.filter((draft) => !draft.givenName && !draft.familyName),
    known,
  );
  return known;
}

function addKnown(known: Map<string, Known>, row: KnownRow): void {
  const called = { givenName: row.given_name, familyName: row.family_name };
  const who = { ...called, name: `${row.given_name} ${row.family_name}`.trim(), id: row.id };
  const stored = { ...called, company: row.company_name ?? '' };
  for (const key of identityKeys({ ...stored, email: row.email ?? '', phone: row.phone ?? '' }))
    known.set(key, who);
  for (const key of identityKeys({ ...stored, email: '', phone: '' })) known.set(key, who);
}

/** A row that names only a company is known when the company is. */
async function lookUpCompanies(
  db: Queryable,
  drafts: readonly ContactDraft[],
  known: Map<string, Known>,
): Promise<void> {
  const keys = distinct(drafts.map((draft) => companyKey(draft.company)));
  for (let from = 0; from < keys.length; from += keysAtOnce) {
    const rows = await db.rows<Row<'company', 'name' | 'name_key'>>(
      'SELECT name, name_key FROM company WHERE name_key IN (:keys)',
      { keys: keys.slice(from, from + keysAtOnce) },
    );
    for (const row of rows)
      known.set(`name: @ ${row.name_key}`, { name: row.name, givenName: '', familyName: '' });
  }
}

function distinct(values: readonly string[]): string[] {
  return [...new Set(values.filter((value) => value !== ''))];
}

/** The same for somebody's eyes: of a person they may not read it is told that they are here, and no more. */
export async function tellOnly(
  db: Queryable,
  who: SignedIn,
  judged: readonly JudgedPerson[],
): Promise<JudgedPerson[]> {
  const ids = judged.flatMap(({ recordId }) => recordId ?? []);
  const readable = new Set((await readableIds(db, who, 'contact', ids)).map((id) => id.toString('hex')));
  return judged.map(({ recordId, ...row }) =>
    recordId === undefined || readable.has(recordId.toString('hex'))
      ? { ...row, ...(recordId && { recordId }) }
      : { ...row, problems: [{ column: 'row', reason: $localize`is with a colleague already` }] },
  );
}
