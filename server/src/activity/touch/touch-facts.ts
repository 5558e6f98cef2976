import type { Direction, JournalKind, StandingGroup, TouchCount } from '@kettle/contract';
import { checkInDueOn, foldTouches, touchRuleOf, type TouchEntry, type TouchFacts } from '@kettle/core/touch';
import { localDate } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { instantOf, sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { refreshDealTouches } from '../../processes/deals/touch-deals';
import { followLeads } from '../../processes/leads/follow-leads';
import type { AllSettings } from '../../records/settings/settings';

interface StandingColumns {
  standing_id: IdBytes;
  standing_group: StandingGroup;
  standing_days: number | null;
  own_days: number | null;
  standing_set_at: string;
  country: string;
  zone: string;
}

/**
 * Derives a contact's touch facts from its journal again and writes them, in the transaction that changed the journal:
 * last touch, last conversation, unanswered message, check-in day, tries and answers by channel; where leads stand, and when deals were last touched.
 */
export async function refreshTouchFacts(
  tx: Queryable,
  { calendars }: Services,
  settings: AllSettings,
  contactId: string,
): Promise<TouchFacts> {
  const id = bytesOf(contactId);
  const [person] = await tx.rows<StandingColumns>(
    `SELECT s.id AS standing_id, s.standing_group, s.check_in_days AS standing_days, c.check_in_days AS own_days, c.standing_set_at,
            c.country, c.zone
       FROM contact c JOIN standing s ON s.id = c.standing_id WHERE c.id = :id`,
    { id },
  );
  if (!person) throw new Error(`contact ${contactId} has gone while its journal was written`);
  const standing = { id: idOf<string>(person.standing_id), group: person.standing_group };
  const { touches, dealIds } = await readTouches(tx, contactId);
  const facts = foldTouches(touches, touchRuleOf(standing, settings.touchPolicy));
  const dueOn = checkInDueOn(
    {
      lastTouchOn: facts.lastTouch && localDate(facts.lastTouch.at, person.zone),
      standingSetOn: localDate(instantOf(person.standing_set_at), person.zone),
      standingDays: person.standing_days,
      ownDays: person.own_days,
    },
    calendars.of(person.country, person.zone),
  );
  await tx.change(
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
  await writeChannelFacts(tx, id, facts);
  await followLeads(tx, contactId, touches);
  if (dealIds.length > 0) await refreshDealTouches(tx, settings.touchPolicy, dealIds);
  return facts;
}

/**
 * Entries of the contact's own, and those it shares; and every deal they name, also those that were removed, as such a deal
 * may have lost its last touch. Relies on journal_contact and entry_person_time.
 */
async function readTouches(
  tx: Queryable,
  contactId: string,
): Promise<{ touches: TouchEntry[]; dealIds: IdBytes[] }> {
  const rows = await tx.rows<{
    id: IdBytes;
    at: string;
    kind: JournalKind;
    direction: Direction | null;
    counts: TouchCount;
    outcome_id: string | null;
    deal_id: IdBytes | null;
    removed_at: string | null;
  }>(
    `SELECT id, at, kind, direction, counts, outcome_id, deal_id, removed_at FROM journal_entry
      WHERE contact_id = :id AND counts <> 'none'
     UNION ALL
     SELECT j.id, j.at, j.kind, j.direction, j.counts, j.outcome_id, NULL, j.removed_at
       FROM entry_person p JOIN journal_entry j ON j.id = p.entry_id
      WHERE p.contact_id = :id AND j.counts <> 'none'
     ORDER BY at, id`,
    { id: bytesOf(contactId) },
  );
  const deals = new Map(rows.flatMap(({ deal_id: id }) => (id === null ? [] : [[id.toString('hex'), id]])));
  const touches = rows
    .filter((row) => row.removed_at === null)
    .map(({ at, kind, direction, counts, outcome_id }) => ({
      at: instantOf(at),
      kind,
      direction,
      counts,
      outcomeId: outcome_id,
    }));
  return { touches, dealIds: [...deals.values()] };
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
