import type { DropOff, DropOffSteps, dropOffQuery } from '@kettle/contract';
import { addDays, localMoment } from '@kettle/core/time';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { sqlInstant, wholeNumber } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { reachParameters, withinReach } from '../../records/rights/index';
import type { SignedIn } from '../../records/users/index';

type Sums = Record<keyof DropOffSteps, string>;

/** Since the lead began, with its person. */
const happened = (what: string) =>
  `EXISTS (SELECT 1 FROM journal_entry j WHERE j.contact_id = l.contact_id AND j.at >= l.created_at
     AND j.removed_at IS NULL AND ${what})`;

/**
 * How far each lead came, by what was logged with its person since it began and by what became of it, so that each step holds all of the next:
 * a qualified one counts as spoken with, and one that was spoken with as tried. Of those that began from `:start` and before `:end`.
 */
export const leadFacts = ({ key, conditions }: { readonly key: string; readonly conditions: string }) => `
  SELECT l.id, ${key} AS row_key, l.source, l.aside_reason, l.status = 'set-aside' AS aside, l.status = 'qualified' AS qualified,
         l.status IN ('qualified', 'in-talks') OR ${happened("j.counts = 'conversation'")} AS talked,
         l.status IN ('qualified', 'in-talks', 'trying') OR ${happened("j.counts <> 'none' AND NOT j.direction <=> 'in'")}
           OR ${happened("j.counts = 'conversation'")} AS tried
    FROM sales_lead l WHERE l.created_at >= :start AND l.created_at < :end AND ${conditions}`;

const sums = `COUNT(*) AS began, SUM(tried) AS tried, SUM(talked) AS talked, SUM(qualified) AS qualified, SUM(aside) AS aside`;

/** Leads that began in a period, archived ones too: how many were tried, spoken with, qualified or set aside, and why. */
export async function readDropOff(
  db: Queryable,
  who: SignedIn,
  { from, to, owner }: z.output<typeof dropOffQuery>,
): Promise<DropOff> {
  const conditions = `${withinReach(who, 'lead', 'l')}${owner === 'mine' ? ' AND l.owner_id = :me' : ''}`;
  const leads = leadFacts({ key: "''", conditions });
  const parameters = {
    ...reachParameters(who),
    me: bytesOf(who.id),
    start: sqlInstant(localMoment(from, 0, who.zone)),
    end: sqlInstant(localMoment(addDays(to, 1), 0, who.zone)),
  };
  const [sources, reasons] = await Promise.all([
    db.rows<Sums & { source: string | null }>(
      `SELECT source, ${sums} FROM (${leads}) came GROUP BY source ORDER BY began DESC, source IS NULL, source`,
      parameters,
    ),
    db.rows<Record<'began' | 'tried' | 'talked', string> & { reason: string | null }>(
      `SELECT aside_reason AS reason, COUNT(*) AS began, SUM(tried) AS tried, SUM(talked) AS talked
         FROM (${leads}) came WHERE aside GROUP BY aside_reason ORDER BY began DESC, aside_reason`,
      parameters,
    ),
  ]);
  const bySource = sources.map(({ source, ...row }) => ({ source, ...stepsOf(row) }));
  return {
    total: bySource.reduce(added, { began: 0, tried: 0, talked: 0, qualified: 0, aside: 0 }),
    sources: bySource,
    reasons: reasons.map(({ reason, began, tried, talked }) => ({
      ...{ reason, count: wholeNumber(began), tried: wholeNumber(tried), talked: wholeNumber(talked) },
    })),
  };
}

const stepsOf = (row: Sums): DropOffSteps => ({
  began: wholeNumber(row.began),
  tried: wholeNumber(row.tried),
  talked: wholeNumber(row.talked),
  qualified: wholeNumber(row.qualified),
  aside: wholeNumber(row.aside),
});

const added = (one: DropOffSteps, other: DropOffSteps): DropOffSteps => ({
  began: one.began + other.began,
  tried: one.tried + other.tried,
  talked: one.talked + other.talked,
  qualified: one.qualified + other.qualified,
  aside: one.aside + other.aside,
});
