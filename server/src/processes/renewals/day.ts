import { agreementId } from '@kettle/contract';
import { addMonths, onOrAfterWorkingDay, sayDate } from '@kettle/core/time';
import * as z from 'zod';
import { insertTask } from '../../activity/tasks/index';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf, idOf } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import type { Work } from '../../platform/work/work';
import { notify } from '../../records/notifications/index';
import { nextCheckIn, ownersDay, readAgreements, rollAgreements } from '../agreements/index';
import { beginRenewal } from './open-renewal';

export const dayKind = 'agreements-day';
export const rollKind = 'roll-agreement';
export const beginKind = 'begin-renewal';
export const checkInKind = 'agreement-check-in';
const mostAtOnce = 2_000;

const ofAgreement = z.object({ id: agreementId });
const ofTerm = ofAgreement.extend({ n: z.int() });

interface Due {
  readonly id: Buffer;
  readonly term_n: number;
  readonly lead_on: string;
  readonly next_on: string | null;
  readonly check_in_on: string | null;
}

const isLeading = `decision = 'open' AND lead_on <= :on AND led_n < term_n AND state IN ('running', 'over')
   AND (renews_itself = 0 OR notice_deadline_on >= :on) AND COALESCE(next_on > :on, TRUE)`;

/** Begins at once every renewal whose day has come: for what makes up a past. */
export async function beginDue(w: Work<null>): Promise<void> {
  const rows = await w.rows<Due>(
    `SELECT id, term_n FROM agreement WHERE archived_at IS NULL AND ${isLeading} ORDER BY id`,
    {
      on: w.now.slice(0, 10),
    },
  );
  for (const { id, term_n: n } of rows) await beginRenewal(w, idOf(id), n);
}

/**
 * Finds what a day brings: agreements that become another, whose talk is to begin, or whose check-in is due; each is a job of its own, so that
 * one that fails holds up no other. What a day missed, because nothing ran, the next one finds. Relies on agreement_next, agreement_lead and
 * agreement_check_in.
 */
export const findDay: JobKind = {
  words: $localize`looking what the day brings for agreements`,
  effect: 'database',
  run: async (w) => {
    const on = w.now.slice(0, 10);
    const find = (condition: string, order: string) =>
      w.rows<Due>(
        `SELECT id, term_n, lead_on, next_on, check_in_on FROM agreement WHERE archived_at IS NULL AND ${condition} ORDER BY ${order}, id LIMIT ${mostAtOnce}`,
        { on },
      );
    const rolling = await find('next_on <= :on', 'next_on');
    for (const row of rolling) await ask(w, rollKind, row, row.next_on ?? '');
    const leading = await find(isLeading, 'lead_on');
    for (const row of leading) await ask(w, beginKind, row, String(row.term_n));
    const looking = await find("check_in_on <= :on AND state = 'running'", 'check_in_on');
    for (const row of looking) await ask(w, checkInKind, row, row.check_in_on ?? '');
    // More than one look takes: the rest is found by another.
    if ([rolling, leading, looking].some((rows) => rows.length === mostAtOnce))
      await enqueue(w, {
        ...{ kind: dayKind, payload: {}, dueAt: w.now },
        dedupeKey: `${dayKind}:${on}:after:${idOf<string>((rolling.at(-1) ?? leading.at(-1) ?? looking.at(-1))!.id)}`,
      });
  },
};

/** The same thing asked twice, on one day or on several servers, has one key. */
const ask = (w: Work, kind: string, row: Due, what: string) => {
  const id = idOf<string>(row.id);
  return enqueue(w, {
    ...{ kind, payload: { id, n: row.term_n }, dueAt: w.now },
    // A renewal begins once for a term, and not again when its deal was undone; the others may come a day too early for their owner's zone.
    dedupeKey: `${kind}:${id}:${what}${kind === beginKind ? '' : `:${w.now.slice(0, 10)}`}`,
  });
};

/** A term that renews itself goes over into the next; a change comes into force; one that leaves is over. */
export const rollJob: JobKind = {
  words: $localize`letting an agreement go on to its next term`,
  effect: 'database',
  run: async (w, payload) => {
    const { id } = ofAgreement.parse(payload);
    await w.rows('SELECT 1 FROM agreement WHERE id = :id FOR UPDATE', { id: bytesOf(id) });
    const [before] = await readAgreements(w, [bytesOf(id)]);
    if (before === undefined) return;
    await rollAgreements(w, [id]);
    const [after] = await readAgreements(w, [bytesOf(id)]);
    w.say($localize`Agreement “${before.name}:name:” goes on`);
    const { today } = await ownersDay(w, before.ownerId);
    const isLed = after!.decision === 'open' && after!.leadOn <= today && after!.noticeDeadlineOn >= today;
    if (isLed && after!.state === 'running')
      await enqueue(w, {
        ...{ kind: beginKind, payload: { id, n: after!.termNumber - 1 }, dueAt: w.now },
        dedupeKey: `${beginKind}:${id}:${after!.termNumber - 1}`,
      });
    if (after!.termNumber > before.termNumber && before.renewalDealId !== null) {
      const until = sayDate(after!.endsOn, w.now.slice(0, 10));
      await notify(
        w,
        'renewal',
        [before.ownerId],
        $localize`${before.name}:name: renewed itself until ${until}:until:; its renewal is still open`,
        `/deals/${before.renewalDealId}`,
        true,
      );
    }
  },
};

export const beginJob: JobKind = {
  words: $localize`beginning a renewal`,
  effect: 'database',
  run: (w, payload) => {
    const { id, n } = ofTerm.parse(payload);
    return beginRenewal(w, id, n);
  },
};

/** How are they? A task of its own, every so many months of the term; none in the time to talk, when the renewal is the reason to call. */
export const checkInJob: JobKind = {
  words: $localize`planning a check-in`,
  effect: 'database',
  run: async (w, payload) => {
    const { id } = ofAgreement.parse(payload);
    const [row] = await w.rows<Row<'agreement', 'check_in_on' | 'check_in_months' | 'starts_on'>>(
      'SELECT check_in_on, check_in_months, starts_on FROM agreement WHERE id = :id FOR UPDATE',
      { id: bytesOf(id) },
    );
    const [agreement] = await readAgreements(w, [bytesOf(id)]);
    if (row === undefined || row.check_in_on === null || agreement === undefined) return;
    const { today, calendar } = await ownersDay(w, agreement.ownerId);
    if (row.check_in_on > today) return;
    await w.change('UPDATE agreement SET check_in_on = :next WHERE id = :id', {
      id: bytesOf(id),
      next: nextCheckIn(row.starts_on, row.check_in_months, today),
    });
    // One that was missed by more than a month is not made up for.
    const isLate = addMonths(row.check_in_on, 1) <= today;
    const isTalk = agreement.leadOn <= row.check_in_on && agreement.endsOn > row.check_in_on;
    if (isLate || isTalk || agreement.leavesOn !== null) return;
    await insertTask(w, {
      ...{
        channel: 'call',
        promisedAt: null,
        minutes: 8,
        ownerId: agreement.ownerId,
        dealId: null,
        run: null,
      },
      ...{ contactId: agreement.contactId, companyId: agreement.companyId },
      dueOn: onOrAfterWorkingDay(today, calendar),
      purpose: $localize`Check-in: ${agreement.name}:name:`.slice(0, 200),
    });
    w.say($localize`Check-in planned: ${agreement.name}:name:`);
  },
};
