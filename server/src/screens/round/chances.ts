import type { LearnedName, LearnedValue, RoundSettingsBody } from '@kettle/contract';
import { learnedNames } from '@kettle/contract';
import { channelNames } from '@kettle/contract/base/channels';
import {
  type Cases,
  defaultRoundSettings,
  type Falling,
  fewestCases,
  fitFalling,
  fitFloor,
  type RoundSettings,
  roundSettingsOf,
  usualCounts,
  usualOf,
} from '@kettle/core/round';
import { addDays, workingDaysBetween, type WorkingCalendar } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { wholeNumber } from '../../platform/database/values';
import { keepLearned, type Learned, readLearned } from '../../records/settings/index';

/** What a kept promise is worth, as a share of what an open deal usually weighs. */
const shareOfPromise = 0.1;

/** The Round's values as they are usual and as they were learned last night, in the currency of the organisation. */
export async function readChances(db: Queryable, currency: string): Promise<LearnedValue[]> {
  const learned = await readLearned(db);
  return learnedNames.map((name) => {
    const found = learned.get(name === 'promiseMinor' ? 'usual-weighted' : name);
    const usual = usualOf(name, currency);
    const cases = found?.cases ?? 0;
    if (found === undefined) return { name, usual, learned: null, cases };
    // A median of few deals is nearer than any figure of ours.
    if (name === 'promiseMinor')
      return { name, usual, learned: Math.round(found.value * shareOfPromise), cases };
    return { name, usual, learned: cases < fewestCases ? null : found.value, cases };
  });
}

/** What the Round reckons with: what somebody set, else what was learned, else the usual. */
export const readRoundSettings = async (
  db: Queryable,
  set: RoundSettingsBody,
  currency: string,
): Promise<RoundSettings> => roundSettingsOf(set, await readChances(db, currency));

/** Acts of the last two years, those whose thirty days are over: what is too young to have brought anything is no failure. */
const learnedFromDays = 730;
const bringsWithinDays = 30;
const quietFromDays = 3 * 365;
const lostWithinDays = 365;
/** How often somebody is looked after of whom nothing is said. */
const usualCheckInDays = 90;

/** Whether a conversation with somebody followed within thirty days of a moment. */
const answered = (contact: string, at: string) => `EXISTS (SELECT 1 FROM journal_entry a
   WHERE a.contact_id = ${contact} AND a.counts = 'conversation' AND a.removed_at IS NULL
     AND a.at >= ${at} AND a.at < ${at} + INTERVAL ${bringsWithinDays} DAY)`;
const touch = (entry: string) =>
  `${entry}.kind IN (:channels) AND ${entry}.counts <> 'none' AND ${entry}.removed_at IS NULL`;
const isOurs = (entry: string) => `COALESCE(${entry}.direction, 'out') = 'out'`;
const tallied = (cases: string, more = '') =>
  `SELECT DATE(since) AS since_on, DATE(acted) AS acted_on${more && `, ${more}`}, COUNT(*) AS tried, SUM(brought) AS brought
     FROM (${cases}) known GROUP BY 1, 2${more && ', 3'}`;

/** By kind, since when each waited, when it was acted on, and whether that was followed by a conversation within thirty days. */
const waiting = {
  reply: tallied(`SELECT t.waited AS since, t.acted, ${answered('t.contact_id', 't.acted')} AS brought
      FROM (SELECT contact_id, MIN(IF(is_ours, NULL, at)) AS waited,
                   LEAD(MIN(IF(is_ours, at, NULL))) OVER (PARTITION BY contact_id ORDER BY turn) AS acted
              FROM (SELECT e.contact_id, e.at, ${isOurs('e')} AS is_ours,
                           SUM(${isOurs('e')}) OVER (PARTITION BY e.contact_id ORDER BY e.at, e.id) AS turn
                      FROM journal_entry e WHERE e.contact_id IS NOT NULL AND e.at >= :from AND ${touch('e')}) touches
             GROUP BY contact_id, turn) t
     WHERE t.waited IS NOT NULL AND t.acted < :to`),
  lead: tallied(`SELECT l.created_at AS since, l.acted, ${answered('l.contact_id', 'l.acted')} AS brought
      FROM (SELECT s.id, s.contact_id, s.created_at, MIN(e.at) AS acted
              FROM sales_lead s JOIN journal_entry e ON e.contact_id = s.contact_id AND e.at >= s.created_at
             WHERE s.created_at >= :from AND ${touch('e')} AND ${isOurs('e')} GROUP BY s.id, s.contact_id, s.created_at) l
     WHERE l.acted < :to`),
  task: tallied(`SELECT t.due_on AS since, t.finished_at AS acted, ${answered('t.contact_id', 't.finished_at')}
           OR EXISTS (SELECT 1 FROM journal_entry e
                       WHERE e.task_id = t.id AND e.counts = 'conversation' AND e.removed_at IS NULL) AS brought
      FROM task t
     WHERE t.state = 'done' AND t.run_id IS NULL AND t.contact_id IS NOT NULL AND t.finished_at >= :from AND t.finished_at < :to`),
  waking: tallied(`SELECT v.at AS since, v.at AS acted, ${answered('d.contact_id', 'v.at')} AS brought
      FROM deal d JOIN event v ON v.record_id = d.id AND v.kind = 'deal-reopened' AND JSON_VALUE(v.data, '$.from') = 'parked'
     WHERE d.opened_at >= :from AND v.at >= :from AND v.at < :to`),
  stirring:
    tallied(`SELECT s.at AS since, s.handled_at AS acted, ${answered('s.contact_id', 's.handled_at')} AS brought
      FROM stirring s
     WHERE s.contact_id IS NOT NULL AND s.handled_by IS NOT NULL AND s.handled_at >= :from AND s.handled_at < :to
       AND (s.kind IN ('clicked', 'missed-call') OR (s.kind = 'opened' AND s.times > 1))`),
} as const;

/** Steps of cadences that were done by hand, with the days to the next: that many take half of the chance. */
const steps = tallied(
  `SELECT t.due_on AS since, t.finished_at AS acted, COALESCE(t.spacing_days, 5) AS spacing,
          p.answered_at IS NOT NULL AND p.answered_at < t.finished_at + INTERVAL ${bringsWithinDays} DAY AS brought
     FROM task t JOIN run_step p ON p.run_id = t.run_id AND p.step = t.run_step
    WHERE t.state = 'done' AND NOT t.is_automatic AND t.finished_at >= :from AND t.finished_at < :to`,
  'spacing',
);

/** Customers who went quiet for longer than they should, a year ago or before, and whether they were lost within the year. */
const silences = `SELECT COUNT(*) AS tried, SUM(known.is_former AND known.standing_set_at >= known.quiet_from
          AND known.standing_set_at < known.quiet_from + INTERVAL ${lostWithinDays} DAY) AS brought
     FROM (SELECT c.id, c.standing_set_at, st.standing_group = 'former' AS is_former, MAX(g.at) AS quiet_from
             FROM (SELECT e.contact_id, e.at, LEAD(e.at) OVER (PARTITION BY e.contact_id ORDER BY e.at, e.id) AS next_at
                     FROM journal_entry e WHERE e.contact_id IS NOT NULL AND e.at >= :quietFrom AND ${touch('e')}) g
             JOIN contact c ON c.id = g.contact_id JOIN standing st ON st.id = c.standing_id
            WHERE st.standing_group IN ('customer', 'former') AND g.at < :quietTo
              AND g.at + INTERVAL COALESCE(c.check_in_days, st.check_in_days, ${usualCheckInDays}) DAY < COALESCE(g.next_at, :now)
            GROUP BY c.id, c.standing_set_at, st.standing_group) known`;

/** Terms that are over: the days from the first talk of it to the deadline, and whether the customer was lost. */
const renewals = `SELECT known.days AS waited, COUNT(*) AS tried, SUM(NOT known.is_kept) AS brought
     FROM (SELECT a.id, DATEDIFF(a.notice_deadline_on, DATE(MIN(e.at))) AS days,
                  (a.renews_itself AND a.archived_at IS NULL) OR EXISTS (SELECT 1 FROM agreement n
                     WHERE n.id <> a.id AND n.starts_on BETWEEN a.ends_on - INTERVAL 90 DAY AND a.ends_on + INTERVAL 90 DAY
                       AND (n.company_id = a.company_id OR n.contact_id = a.contact_id)) AS is_kept
             FROM agreement a
             JOIN journal_entry e ON e.contact_id = a.contact_id AND e.counts = 'conversation' AND e.removed_at IS NULL
              AND e.at >= a.lead_on AND e.at < a.notice_deadline_on + INTERVAL 1 DAY
            WHERE a.notice_deadline_on >= DATE(:from) AND a.ends_on < DATE(:now)
            GROUP BY a.id, a.notice_deadline_on, a.renews_itself, a.archived_at, a.ends_on, a.company_id, a.contact_id) known
    GROUP BY known.days`;

/** Closed deals by stage and by the days they were there past its patience. */
const stays = `SELECT known.stage_id, s.patience_days, s.win_probability, GREATEST(0, known.days - s.patience_days) AS past,
          COUNT(*) AS tried, SUM(known.won) AS brought
     FROM (SELECT d.id, y.stage_id, d.status = 'won' AS won, SUM(DATEDIFF(y.left_at, y.entered_at)) AS days
             FROM deal d JOIN stage_stay y ON y.deal_id = d.id
            WHERE d.status IN ('won', 'lost') AND d.closed_on >= DATE(:from) AND y.left_at IS NOT NULL
            GROUP BY d.id, y.stage_id, d.status) known
     JOIN stage s ON s.id = known.stage_id
    GROUP BY known.stage_id, s.patience_days, s.win_probability, past`;

interface Tally {
  readonly tried: string;
  readonly brought: string | null;
}

/**
 * Learns from the journal of the last two years, and from deals and agreements that are over, how often acting brings what is at stake and
 * how fast that falls. What counts as having brought something: a conversation within thirty days.
 */
export async function learnChances(tx: Queryable, now: string, calendar: WorkingCalendar): Promise<void> {
  const ago = (days: number) => `${addDays(now.slice(0, 10), -days)} 00:00:00`;
  const parameters = {
    channels: channelNames,
    from: ago(learnedFromDays),
    to: ago(bringsWithinDays),
    quietFrom: ago(quietFromDays),
    quietTo: ago(lostWithinDays),
    now: now.slice(0, 10),
  };
  const read = <Row>(sql: string) => tx.rows<Row & Tally>(sql, parameters);
  const workingDays = (since: string, acted: string) =>
    acted <= since ? 0 : workingDaysBetween(since, acted, calendar);
  const keep = (name: LearnedName, learned: Learned | null) => keepLearned(tx, name, learned);

  for (const kind of ['reply', 'lead', 'task', 'waking', 'stirring'] as const) {
    const rows = await read<{ since_on: string; acted_on: string }>(waiting[kind]);
    const cases = rows.map((row) => casesOf(row, workingDays(row.since_on, row.acted_on)));
    const usual = { chance: defaultRoundSettings.p0[kind], halfDays: defaultRoundSettings.halfDays[kind] };
    const fit = fitted(cases, usual);
    await keep(`p0.${kind}`, fit && { value: fit.chance, cases: fit.cases });
    await keep(`halfDays.${kind}`, fit && { value: fit.halfDays, cases: fit.cases });
  }

  const done = await read<{ since_on: string; acted_on: string; spacing: number }>(steps);
  // In spacings: each takes half of the chance.
  const late = done.map((row) =>
    casesOf(row, workingDays(row.since_on, row.acted_on) / Math.max(1, row.spacing)),
  );
  const step = fitted(late, { chance: defaultRoundSettings.p0.step, halfDays: 1 }, true);
  await keep('p0.step', step && { value: step.chance, cases: step.cases });

  const quiet = (await read<object>(silences)).map((row) => casesOf(row, 0));
  const loss = fitted(quiet, { chance: defaultRoundSettings.silenceLossChance, halfDays: 1 }, true);
  await keep('silenceLossChance', loss && { value: loss.chance, cases: loss.cases });

  const terms = (await read<{ waited: number }>(renewals)).map((row) => casesOf(row, Number(row.waited)));
  const lost = fitted(terms, {
    chance: 1 - defaultRoundSettings.renewalLastDay,
    halfDays: defaultRoundSettings.renewalHalfDays,
  });
  await keep('renewalLastDay', lost && { value: round(1 - lost.chance, 3), cases: lost.cases });
  await keep('renewalHalfDays', lost && { value: lost.halfDays, cases: lost.cases });

  await keep('dealFloor', floorOf(await read<Stay>(stays)));
}

const casesOf = ({ tried, brought }: Tally, waited: number): Cases => ({
  waited,
  tried: wholeNumber(tried),
  brought: wholeNumber(brought),
});

const round = (value: number, places: number) => Number(value.toFixed(places));

/** The fit as it is shown and used, to the digit; null without a case. */
function fitted(cases: readonly Cases[], usual: Falling, isFixed = false) {
  const tried = cases.reduce((sum, each) => sum + each.tried, 0);
  if (tried === 0) return null;
  const { chance, halfDays } = fitFalling(cases, usual, { isFixed });
  return { chance: round(chance, 3), halfDays: round(halfDays, 2), cases: tried };
}

interface Stay extends Tally {
  readonly stage_id: Buffer;
  readonly patience_days: number;
  readonly win_probability: string;
  readonly past: string | number;
}

/** What a deal that was left keeps of the chance of those that were not, stage by stage. */
function floorOf(rows: readonly Stay[]): Learned | null {
  const stages = new Set(rows.map((row) => row.stage_id.toString('hex')));
  const left = [...stages].flatMap((id) => {
    const stage = rows.filter((row) => row.stage_id.toString('hex') === id);
    const fresh = stage.filter(({ past }) => Number(past) === 0).map((row) => casesOf(row, 0));
    const sum = (of: (row: Cases) => number) => fresh.reduce((total, row) => total + of(row), 0);
    const usual = Number(stage[0]!.win_probability);
    const chance =
      (sum((row) => row.brought) + usualCounts * usual) / (sum((row) => row.tried) + usualCounts);
    return stage
      .filter(({ past }) => Number(past) > 0)
      .map((row) => ({
        ...casesOf(row, 0),
        fresh: chance,
        fallen: 1 - 2 ** (-Number(row.past) / Math.max(1, row.patience_days)),
      }));
  });
  const cases = left.reduce((sum, row) => sum + row.tried, 0);
  return cases === 0 ? null : { value: round(fitFloor(left, defaultRoundSettings.dealFloor), 3), cases };
}
