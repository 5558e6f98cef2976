import { randomUUID } from 'node:crypto';
import type { LogEntry, UserId } from '@kettle/contract';
import type { Database, Queryable } from '../src/platform/database/database';
import { sqlInstant } from '../src/platform/database/values';
import { logAct } from '../src/processes/logging/log-act';
import { contactsList } from '../src/records/contacts/list-contacts';
import { listRoutes } from '../src/records/grid/index';
import { searchEverywhere } from '../src/activity/search/search.routes';
import { readSignedIn } from '../src/records/users/session';
import { readDossier } from '../src/screens/dossier/read-dossier';
import { bytesOf, idOf, newId, type IdBytes } from '../src/platform/ids';
import type { Services } from '../src/platform/services';
import { candidateCount, firmOf, wordOf } from './load';
import { compareAtOnce, print } from './measure';

interface Bench {
  readonly database: Database;
  readonly services: Services;
  readonly ownerId: UserId;
  readonly now: string;
}

const atOnce = { people: 8, each: 6, rounds: 5 };
const gridColumns = `c.id, c.given_name, c.family_name, c.job_title, c.company_id, c.company_name, c.email, c.phone, c.country,
  c.zone, c.standing_id, c.owner_id, u.name AS owner_name, c.source, c.warmth, c.last_touch_at, c.last_touch_kind,
  c.last_conversation_at, c.next_step_on, c.next_touch_due, c.created_at, c.version`;

/** What a rep waits for among 200,000 contacts and 2,000,000 entries while eight work at once, against the bare statements. */
export async function benchPeople({ database, services, ownerId, now }: Bench): Promise<void> {
  const who = await readSignedIn(database, ownerId, new Date().toISOString());
  const list = listRoutes(services, contactsList);
  const ids = (
    await database.rows<{ id: IdBytes<LogEntry['contactId']> }>(
      `SELECT id FROM contact WHERE owner_id = :owner ORDER BY id LIMIT ${candidateCount}`,
      { owner: bytesOf(ownerId) },
    )
  ).map((row) => row.id);
  const measure = async (
    name: string,
    ours: (n: number) => Promise<unknown>,
    bare: (n: number) => Promise<unknown>,
    note?: string,
  ) => {
    if (!name.includes(process.env.KETTLE_BENCH_ABOUT ?? '')) return;
    const { ours: value, bare: baseline } = await compareAtOnce(atOnce, ours, bare);
    const figure = {
      name: `${name}, p95 of 8 at once`,
      value,
      unit: 'ms',
      baseline,
      ratio: value / baseline,
      aim: 2,
    };
    print(note === undefined ? figure : { ...figure, note });
  };
  /** Ids in the order of an index, then the rows of the page: as one would write it by hand, nothing made of them. */
  const bareGrid = async (
    where: string,
    order: string,
    parameters: Record<string, string | IdBytes>,
    offset = 0,
  ) => {
    const page = await database.rows<{ id: IdBytes }>(
      `SELECT c.id FROM contact c WHERE c.archived_at IS NULL ${where} ORDER BY ${order} LIMIT 100 OFFSET ${offset}`,
      parameters,
    );
    return database.rows(
      `SELECT ${gridColumns} FROM contact c LEFT JOIN app_user u ON u.id = c.owner_id WHERE c.id IN (:ids)`,
      { ids: page.map((row) => row.id) },
    );
  };
  /** As a page asks for the usual columns, none of which is counted. */
  const grid = { q: '', owner: 'all', limit: 100, counted: 'no' } as const;

  for (const [words, field, order, from] of [
    ['its first page by name', 'name', 'c.sort_name, c.id', 0],
    ['a page 50,000 rows down, by company', 'company', 'c.company_name, c.sort_name, c.id', 50_000],
    ['a page by next step', 'next-step', 'c.next_step_sort, c.id', 0],
  ] as const)
    await measure(
      `grid: ${words}`,
      (n) =>
        list.page({
          query: { ...grid, sort: [{ field, order: 'up' }], after: from + (n % 7) * 100 },
          who,
        }),
      (n) => bareGrid('', order, {}, from + (n % 7) * 100),
    );

  // As it is scrolled: each page by the row before it.
  const anchors = await database.rows<{ id: IdBytes; company_name: string; sort_name: string }>(
    'SELECT c.id, c.company_name, c.sort_name FROM contact c WHERE c.archived_at IS NULL ORDER BY c.company_name, c.sort_name, c.id LIMIT 7 OFFSET 150000',
  );
  await measure(
    'grid: the next page 150,000 rows down, by company',
    (n) =>
      list.page({
        query: {
          ...grid,
          ...{ sort: [{ field: 'company', order: 'up' }], after: 0 },
          follows: idOf<string>(anchors[n % anchors.length]!.id),
        },
        who,
      }),
    (n) => {
      const { id, company_name: company, sort_name: name } = anchors[n % anchors.length]!;
      return bareGrid(
        'AND c.company_name >= :company AND (c.company_name > :company OR (c.company_name = :company AND (c.sort_name > :name OR (c.sort_name = :name AND c.id > :id))))',
        'c.company_name, c.sort_name, c.id',
        { company, name, id },
      );
    },
  );

  for (const [words, q, asked] of [
    ['one person by name and number', 'tarrant 4021', '+tarrant* +4021*'],
    ['a firm of seven people', firmOf(12_345), `+${firmOf(12_345).replace(' ', '* +')}*`.toLowerCase()],
    ['two names that 500 people have', 'maud ellery', '+maud* +ellery*'],
  ] as const)
    await measure(
      `quick search in the list: ${words}`,
      () => list.page({ query: { ...grid, q, sort: [{ field: 'name', order: 'up' }], after: 0 }, who }),
      () =>
        bareGrid('AND MATCH (c.search_text) AGAINST (:asked IN BOOLEAN MODE)', 'c.sort_name, c.id', {
          asked,
        }),
    );

  const find = (q: string, among: 'names' | 'notes') => searchEverywhere(database, { q, among }, who);
  const match = (table: string, columns: string, asked: string, limit: number) =>
    database.rows(
      `SELECT * FROM ${table} WHERE MATCH (${columns}) AGAINST (:asked IN BOOLEAN MODE) LIMIT ${limit}`,
      { asked },
    );
  await measure(
    'search everywhere, names, firms and deals',
    (n) => find(`ellery ${n % 400}`, 'names'),
    (n) => {
      const asked = `+ellery* +${n % 400}*`;
      return Promise.all([
        match('contact', 'search_text', asked, 8),
        match('company', 'name, city', asked, 4),
        match('deal', 'name', asked, 4),
      ]);
    },
  );
  await measure(
    'search everywhere, what was written',
    (n) => find(wordOf(n), 'notes'),
    (n) => match('journal_entry', 'body', `+${wordOf(n)}*`, 400),
    'each word is in some thousands of entries',
  );

  await measure(
    'dossier: contact, journal, open tasks',
    (n) =>
      readDossier(services, who, {
        contactId: idOf<LogEntry['contactId']>(ids[n % ids.length]!),
        parts: ['record', 'steps', 'journal'],
      }),
    (n) => bareDossier(database, ids[n % ids.length]!),
    'ours also marks, answers by channel, other numbers, own fields, comments, who was there, counts for the tabs',
  );

  await measure(
    'logging a call with its next step',
    (n) => logAct(services, who, aCall(idOf<LogEntry['contactId']>(ids[n % ids.length]!), n)),
    (n) => database.transaction((tx) => bareCall(tx, ids[n % ids.length]!, ownerId, now)),
    'bare: the entry, the next task and the contact’s dates in one transaction; ours also cadences, undo, tethers, events',
  );
}

async function bareDossier(db: Database, id: Buffer): Promise<void> {
  await Promise.all([
    db.rows(
      `SELECT ${gridColumns}, c.about FROM contact c LEFT JOIN app_user u ON u.id = c.owner_id WHERE c.id = :id`,
      { id },
    ),
    db.rows(
      `SELECT j.id, j.at, j.kind, j.outcome_label, j.body, u.name FROM journal_entry j LEFT JOIN app_user u ON u.id = j.user_id
        WHERE j.contact_id = :id ORDER BY j.at DESC, j.id DESC LIMIT 30`,
      { id },
    ),
    db.rows(
      "SELECT id, purpose, due_on FROM task WHERE contact_id = :id AND state = 'open' ORDER BY due_on, id",
      { id },
    ),
  ]);
}

function aCall(contactId: LogEntry['contactId'], n: number): LogEntry {
  return {
    id: randomUUID() as LogEntry['id'],
    contactId,
    dealId: null,
    taskId: null,
    outcomeId: 'call-no-answer',
    at: null,
    minutes: null,
    body: `No answer ${n}`,
    done: [],
    alsoContactIds: [],
    next: {
      kind: 'task',
      channel: 'call',
      dueOn: '2026-11-26',
      promisedMinute: null,
      purpose: 'try again',
      minutes: 6,
    },
  };
}

async function bareCall(tx: Queryable, contact: Buffer, ownerId: UserId, now: string): Promise<void> {
  const at = sqlInstant(now);
  const owner = bytesOf(ownerId);
  await tx.rows('SELECT id FROM contact WHERE id = :contact FOR UPDATE', { contact });
  await tx.change(
    `INSERT INTO journal_entry (id, at, kind, direction, outcome_id, outcome_label, counts, body, user_id, contact_id, created_at)
     VALUES (:id, :at, 'call', 'out', 'call-no-answer', 'No answer', 'attempt', 'No answer', :owner, :contact, :at)`,
    { id: bytesOf(newId<string>()), at, owner, contact },
  );
  await tx.change(
    `INSERT INTO task (id, channel, purpose, due_on, minutes, owner_id, contact_id, created_at)
     VALUES (:id, 'call', 'try again', '2026-11-26', 6, :owner, :contact, :at)`,
    { id: bytesOf(newId<string>()), owner, contact, at },
  );
  await tx.change(
    "UPDATE contact SET last_touch_at = :at, next_step_on = '2026-11-26', next_step_channel = 'call' WHERE id = :contact",
    { contact, at },
  );
}
