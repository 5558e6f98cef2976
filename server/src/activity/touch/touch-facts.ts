import type { Direction, JournalKind, StandingGroup, TouchCount } from '@kettle/contract';
import { checkInDueOn, foldTouches, touchRuleOf, type TouchEntry, type TouchFacts } from '@kettle/core/touch';
import { localDate } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import type { Deriver, Work } from '../../platform/work/work';
import type { Written } from '../../platform/work/written';

interface StandingColumns {
  standing_id: IdBytes;
  standing_group: StandingGroup;
  standing_days: number | null;
  own_days: number | null;
  standing_set_at: string;
  country: string;
  zone: string;
}

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
  const entries = written.ids('journal_entry', 'id', entryFields);
  const shared =
    entries.length === 0
      ? []
      : await w.rows<{ id: IdBytes }>(
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

/** Touch facts of everybody whose journal or standing a unit of work wrote. */
export const deriveTouchFacts: Deriver = async (w, written) => {
  for (const id of await touchedContacts(w, written)) {
    await refreshTouchFacts(w, id);
    w.note('contact', id);
  }
};

/**
 * Derives a contact's touch facts from its journal and writes them: last touch, last conversation, unanswered message, check-in day,
 * tries and answers by channel. A contact that is gone has none.
 */
export async function refreshTouchFacts(
  w: Pick<Work, 'rows' | 'change' | 'services' | 'settings'>,
  contactId: string,
): Promise<TouchFacts | null> {
  const id = bytesOf(contactId);
  const [person] = await w.rows<StandingColumns>(
    `SELECT s.id AS standing_id, s.standing_group, s.check_in_days AS standing_days, c.check_in_days AS own_days, c.standing_set_at,
            c.country, c.zone
       FROM contact c JOIN standing s ON s.id = c.standing_id WHERE c.id = :id`,
    { id },
  );
  if (!person) return null;
  const { touchPolicy } = await w.settings();
  const standing = { id: idOf<string>(person.standing_id), group: person.standing_group };
  const facts = foldTouches(await readTouches(w, contactId), touchRuleOf(standing, touchPolicy));
  const dueOn = checkInDueOn(
    {
      lastTouchOn: facts.lastTouch && localDate(facts.lastTouch.at, person.zone),
      standingSetOn: localDate(instantOf(person.standing_set_at), person.zone),
      standingDays: person.standing_days,
      ownDays: person.own_days,
    },
    w.services.calendars.of(person.country, person.zone),
  );
  await w.change(
    `UPDATE contact SET last_touch_at = :at, last_touch_kind = :kind, last_touch_counts = :counts,
            last_conversation_at = :conversation, waiting_since = :waiting, next_touch_due = :dueOn
      WHERE id = :id`,
    {
      id,
      at: sqlInstant(facts.lastTouch?.at ?? null),
      kind: facts.lastTouch?.kind ?? null,
      counts: facts.lastTouch?.counts ?? null,
      conversation: sqlInstant(facts.lastConversationAt),
      waiting: sqlInstant(facts.waitingSince),
      dueOn,
    },
  );
  await writeChannelFacts(w, id, facts);
  return facts;
}

/** Entries of the contact's own, and those it shares, that stand; in order. Relies on journal_contact and entry_person_time. */
export async function readTouches(db: Queryable, contactId: string): Promise<TouchEntry[]> {
  const rows = await db.rows<{
    at: string;
    kind: JournalKind;
    direction: Direction | null;
    counts: TouchCount;
    outcome_id: string | null;
  }>(
    `SELECT id, at, kind, direction, counts, outcome_id FROM journal_entry
      WHERE contact_id = :id AND counts <> 'none' AND removed_at IS NULL
     UNION ALL
     SELECT j.id, j.at, j.kind, j.direction, j.counts, j.outcome_id
       FROM entry_person p JOIN journal_entry j ON j.id = p.entry_id
      WHERE p.contact_id = :id AND j.counts <> 'none' AND j.removed_at IS NULL
     ORDER BY at, id`,
    { id: bytesOf(contactId) },
  );
  return rows.map(({ at, kind, direction, counts, outcome_id }) => ({
    at: instantOf(at),
    kind,
    direction,
    counts,
    outcomeId: outcome_id,
  }));
}

async function writeChannelFacts(tx: Queryable, id: Buffer, facts: TouchFacts): Promise<void> {
  await tx.change('DELETE FROM channel_fact WHERE contact_id = :id', { id });
  const rows = [...facts.answers].map(([channel, answer]) => [
    id,
    channel,
    facts.attempts.get(channel) ?? 0,
    answer.tried,
    answer.answered,
  ]);
  if (rows.length > 0)
    await tx.change(
      'INSERT INTO channel_fact (contact_id, channel, tries_since_conversation, tried, answered) VALUES :rows',
      { rows },
    );
}
