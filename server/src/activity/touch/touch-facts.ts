import { addTo } from '../../platform/add-to';
import type { Direction, JournalKind, StandingGroup, TouchCount } from '@kettle/contract';
import { checkInDueOn, foldTouches, touchRuleOf, type TouchEntry, type TouchFacts } from '@kettle/core/touch';
import { localDate } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import type { Deriver, Work } from '../../platform/work/work';
import { contactSteps, refreshNextSteps, withNewSteps } from './next-steps';
import { idBytesOfKey, idOfHex, Written } from '../../platform/work/written';
import { updateMany } from '../../platform/database/update-many';
import type { Row, Tables } from '../../platform/database/schema.generated';

const entryFields = [
  'at',
  'kind',
  'direction',
  'outcome_id',
  'counts',
  'contact_id',
  'deal_id',
  'removed_at',
];
const personFields = ['standing_id', 'standing_set_at', 'check_in_days', 'country', 'zone'];

/** Contacts whose touch facts depend on what a unit of work wrote. */
export async function touchedContacts(w: Work, written: Written): Promise<string[]> {
  // Who a new entry is shared with was written with it.
  const entries = new Written(written.rows.filter(({ op }) => op !== 'insert')).ids(
    'journal_entry',
    'id',
    entryFields,
  );
  const shared =
    entries.length === 0
      ? []
      : await w.rows<{ id: Tables['entry_person']['contact_id'] }>(
          'SELECT DISTINCT contact_id AS id FROM entry_person WHERE entry_id IN (:entries) ORDER BY contact_id',
          { entries: entries.map((id) => bytesOf(id)) },
        );
  return [
    ...new Set([
      ...written.ids('journal_entry', 'contact_id', entryFields),
      ...shared.map(({ id }) => idOf<string>(id)),
      ...written.ids('entry_person', 'contact_id'),
      ...written.ids('contact', 'id', personFields),
    ]),
  ];
}

/**
 * Tethers: touch facts of everybody whose journal or standing a unit of work wrote, and the next steps of whom and what it wrote tasks for.
 * A contact with both, as by a log with its next step, is written once.
 */
export const deriveTethers: Deriver = async (w, written) => {
  const contacts = await touchedContacts(w, written);
  const steps = withNewSteps(written);
  const stepped = await refreshTouchFacts(w, contacts, addedEntries(written), new Set(steps.contactIds));
  await refreshNextSteps(w, { ...steps, contactIds: steps.contactIds.filter((id) => !stepped.has(id)) });
  for (const id of new Set([...contacts, ...steps.contactIds])) w.note('contact', id);
  for (const id of steps.dealIds) w.note('deal', id);
};

/**
 * Entries that were added, by contact, for contacts of whom nothing else was written: their facts can be carried on. One that was shared,
 * edited, removed or put back is not among them.
 */
function addedEntries(written: Written): Map<string, Added[]> {
  const notOnly = new Set([
    ...written.ids('entry_person', 'contact_id'),
    ...written.ids('contact', 'id', personFields),
  ]);
  const added = new Map<string, Added[]>();
  for (const { op, refs, was, key } of written.of('journal_entry'))
    if (op !== 'insert') {
      for (const image of [refs, was]) if (image?.contact_id) notOnly.add(idOfHex(image.contact_id));
    } else if (refs.contact_id && refs.counts !== 'none' && refs.removed_at === null)
      addTo(added, idOfHex(refs.contact_id), {
        id: idBytesOfKey(key),
        entry: entryOf(refs as unknown as Omit<TouchRow, 'contact_id'>),
      });
  for (const entries of added.values())
    entries.sort((one, other) => (one.entry.at < other.entry.at ? -1 : 1));
  for (const id of notOnly) added.delete(id);
  return added;
}

interface Added {
  readonly id: Buffer;
  readonly entry: TouchEntry;
}

const contactsAtOnce = 500;

/**
 * Derives contacts' touch facts from their journals and writes them: last touch, last conversation, unanswered message, check-in day,
 * tries and answers by channel. Where an entry was added after all others, the facts known so far are carried on, whatever the length of the
 * journal; else the whole of it is read. A contact that is gone has none.
 * @param added what was added to contacts of whom nothing else was written
 * @param withSteps contacts whose next step is to be found anew, with the same statement where their facts are written
 * @returns those of them of whom it was
 */
export async function refreshTouchFacts(
  w: Pick<Work, 'rows' | 'change' | 'later' | 'services' | 'settings'>,
  contactIds: readonly string[],
  added: ReadonlyMap<string, readonly Added[]> = new Map(),
  withSteps: ReadonlySet<string> = new Set(),
): Promise<ReadonlySet<string>> {
  const stepped = new Set<string>();
  const { touchPolicy } = await w.settings();
  for (let from = 0; from < contactIds.length; from += contactsAtOnce) {
    const part = contactIds.slice(from, from + contactsAtOnce);
    const people = await readPeople(w, part);
    const carried = await readCarried(w, added, people);
    const journals = await readTouches(
      w,
      people.map(({ id }) => id).filter((id) => !carried.has(id)),
    );
    const results = people.map((person) => {
      const rule = touchRuleOf(person.standing, touchPolicy);
      const known = carried.get(person.id);
      const facts = known
        ? foldTouches(known.entries, rule, known.before)
        : foldTouches(journals.get(person.id) ?? [], rule);
      return { person, facts };
    });
    for (const id of await writeFacts(w, results, withSteps)) stepped.add(id);
    await writeChannelFacts(w, results, carried);
  }
  return stepped;
}

interface Person {
  readonly id: string;
  readonly standing: { readonly id: string; readonly group: StandingGroup };
  readonly standingDays: number | null;
  readonly ownDays: number | null;
  readonly standingSetAt: string;
  readonly country: string;
  readonly zone: string;
  /** As it is stored now, column by column. */
  readonly stored: StoredFacts;
}

interface StoredFacts extends Row<
  'contact',
  'last_touch_at' | 'last_touch_counts' | 'last_conversation_at' | 'waiting_since' | 'next_touch_due'
> {
  last_touch_kind: JournalKind | null;
}

/** Locked, so that two entries written at once are both counted; standings, which all share, are not. */
async function readPeople(db: Queryable, contactIds: readonly string[]): Promise<Person[]> {
  if (contactIds.length === 0) return [];
  const rows = await db.rows<
    StoredFacts &
      Row<'contact', 'id' | 'standing_id' | 'standing_set_at' | 'country' | 'zone'> & {
        own_days: Tables['contact']['check_in_days'];
        standing_group: StandingGroup;
        standing_days: number | null;
      }
  >(
    `SELECT c.id, c.standing_id, (SELECT s.standing_group FROM standing s WHERE s.id = c.standing_id) AS standing_group,
            (SELECT s.check_in_days FROM standing s WHERE s.id = c.standing_id) AS standing_days, c.check_in_days AS own_days,
            c.standing_set_at, c.country, c.zone, c.last_touch_at, c.last_touch_kind, c.last_touch_counts, c.last_conversation_at,
            c.waiting_since, c.next_touch_due
       FROM contact c WHERE c.id IN (:ids) ORDER BY c.id FOR UPDATE`,
    { ids: contactIds.map((id) => bytesOf(id)) },
  );
  return rows.map((row) => ({
    id: idOf(row.id),
    standing: { id: idOf(row.standing_id), group: row.standing_group },
    standingDays: row.standing_days,
    ownDays: row.own_days,
    standingSetAt: instantOf(row.standing_set_at),
    country: row.country,
    zone: row.zone,
    stored: {
      last_touch_at: row.last_touch_at,
      last_touch_kind: row.last_touch_kind,
      last_touch_counts: row.last_touch_counts,
      last_conversation_at: row.last_conversation_at,
      waiting_since: row.waiting_since,
      next_touch_due: row.next_touch_due,
    },
  }));
}

interface Carried {
  readonly before: TouchFacts;
  readonly entries: readonly TouchEntry[];
}

/** The facts known so far of contacts whose added entries come after all others. Relies on journal_contact and entry_person_time. */
async function readCarried(
  db: Queryable,
  added: ReadonlyMap<string, readonly Added[]>,
  people: readonly Person[],
): Promise<Map<string, Carried>> {
  const carried = new Map<string, Carried>();
  for (const { id, stored } of people) {
    const mine = added.get(id);
    if (!mine) continue;
    const first = mine.map(({ entry }) => entry.at).sort()[0]!;
    const rows = await db.rows<ChannelFact & { is_later: number }>(
      `SELECT f.channel, f.tries_since_conversation, f.tried, f.answered,
              (EXISTS (SELECT 1 FROM journal_entry WHERE contact_id = :id AND at >= :first AND id NOT IN (:added))
               OR EXISTS (SELECT 1 FROM entry_person WHERE contact_id = :id AND at >= :first)) AS is_later
         FROM (SELECT 1) always LEFT JOIN channel_fact f ON f.contact_id = :id ORDER BY f.channel`,
      {
        id: bytesOf(id),
        first: sqlInstant(first),
        added: mine.map((each) => each.id),
      },
    );
    if (rows[0]?.is_later !== 0) continue;
    carried.set(id, {
      before: factsOf(stored, rows),
      entries: mine.map(({ entry }) => entry),
    });
  }
  return carried;
}

/** What a channel's facts are; the channel is null where a contact has none yet. */
type ChannelFact = Row<'channel_fact', 'tries_since_conversation' | 'tried' | 'answered'> & {
  channel: Row<'channel_fact', 'channel'>['channel'] | null;
};

function factsOf(stored: StoredFacts, all: readonly ChannelFact[]): TouchFacts {
  const rows = all.flatMap(({ channel, ...row }) => (channel === null ? [] : [{ channel, ...row }]));
  const tries = rows.filter((row) => row.tries_since_conversation > 0);
  const at = (text: string | null) => (text === null ? null : instantOf(text));
  return {
    lastTouch:
      stored.last_touch_at === null || stored.last_touch_kind === null || stored.last_touch_counts === null
        ? null
        : {
            at: instantOf(stored.last_touch_at),
            kind: stored.last_touch_kind,
            counts: stored.last_touch_counts,
          },
    lastConversationAt: at(stored.last_conversation_at),
    waitingSince: at(stored.waiting_since),
    attempts: new Map(tries.map((row) => [row.channel, row.tries_since_conversation])),
    answers: new Map(rows.map(({ channel, tried, answered }) => [channel, { tried, answered }])),
  };
}

interface Result {
  readonly person: Person;
  readonly facts: TouchFacts;
}

/** @returns ids of those whose next steps were written with them */
async function writeFacts(
  w: Pick<Work, 'later' | 'services' | 'settings'>,
  results: readonly Result[],
  withSteps: ReadonlySet<string>,
): Promise<string[]> {
  const { organisation } = await w.settings();
  const changed = results.flatMap(({ person, facts }) => {
    const dueOn = checkInDueOn(
      {
        lastTouchOn: facts.lastTouch && localDate(facts.lastTouch.at, person.zone),
        standingSetOn: localDate(person.standingSetAt, person.zone),
        standingDays: person.standingDays,
        ownDays: person.ownDays,
      },
      w.services.calendars.of(person, organisation),
    );
    const now: StoredFacts = {
      last_touch_at: sqlInstant(facts.lastTouch?.at ?? null),
      last_touch_kind: facts.lastTouch?.kind ?? null,
      last_touch_counts: facts.lastTouch?.counts ?? null,
      last_conversation_at: sqlInstant(facts.lastConversationAt),
      waiting_since: sqlInstant(facts.waitingSince),
      next_touch_due: dueOn,
    };
    const columns = Object.keys(now) as (keyof StoredFacts)[];
    const isSame = columns.every((column) => now[column] === person.stored[column]);
    return isSame ? [] : [{ personId: person.id, row: { id: bytesOf(person.id), ...now } }];
  });
  const [stepping, others] = [true, false].map((steps) =>
    changed.filter(({ personId }) => withSteps.has(personId) === steps),
  ) as [typeof changed, typeof changed];
  await updateMany(
    w,
    'contact',
    stepping.map(({ row }) => row),
    contactSteps,
  );
  await updateMany(
    w,
    'contact',
    others.map(({ row }) => row),
  );
  return stepping.map(({ personId }) => personId);
}

/**
 * Entries of contacts' own, and those they share, that stand; in order, by contact. Relies on journal_contact and entry_person_time.
 */
export async function readTouches(
  db: Queryable,
  contactIds: readonly string[],
): Promise<Map<string, TouchEntry[]>> {
  const touches = new Map<string, TouchEntry[]>();
  if (contactIds.length === 0) return touches;
  const rows = await db.rows<TouchRow>(
    `SELECT contact_id, id, at, kind, direction, counts, outcome_id FROM journal_entry
      WHERE contact_id IN (:ids) AND counts <> 'none' AND removed_at IS NULL
     UNION ALL
     SELECT p.contact_id, j.id, j.at, j.kind, j.direction, j.counts, j.outcome_id
       FROM entry_person p JOIN journal_entry j ON j.id = p.entry_id
      WHERE p.contact_id IN (:ids) AND j.counts <> 'none' AND j.removed_at IS NULL
     ORDER BY at, id`,
    { ids: contactIds.map((id) => bytesOf(id)) },
  );
  for (const row of rows) addTo(touches, idOf<string>(row.contact_id), entryOf(row));
  return touches;
}

interface TouchRow {
  contact_id: IdBytes;
  at: string;
  kind: JournalKind;
  direction: Direction | null;
  counts: TouchCount;
  outcome_id: string | null;
}

const entryOf = (row: Omit<TouchRow, 'contact_id'>): TouchEntry => ({
  at: instantOf(row.at),
  kind: row.kind,
  direction: row.direction,
  counts: row.counts,
  outcomeId: row.outcome_id,
});

async function writeChannelFacts(
  tx: Pick<Work, 'later'>,
  results: readonly Result[],
  carried: ReadonlyMap<string, Carried>,
): Promise<void> {
  const whole = results.map(({ person }) => person.id).filter((id) => !carried.has(id));
  if (whole.length > 0)
    await tx.later('DELETE FROM channel_fact WHERE contact_id IN (:ids)', {
      ids: whole.map((id) => bytesOf(id)),
    });
  const rows = results.flatMap(({ person, facts }) =>
    [...facts.answers].map(([channel, answer]) => [
      bytesOf(person.id),
      channel,
      facts.attempts.get(channel) ?? 0,
      answer.tried,
      answer.answered,
    ]),
  );
  if (rows.length > 0)
    await tx.later(
      `INSERT INTO channel_fact (contact_id, channel, tries_since_conversation, tried, answered) VALUES :rows
       ON DUPLICATE KEY UPDATE tries_since_conversation = VALUES(tries_since_conversation), tried = VALUES(tried), answered = VALUES(answered)`,
      { rows },
    );
}
