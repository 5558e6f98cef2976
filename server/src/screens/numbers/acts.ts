import { answerWindowDays } from '@kettle/core/deals';
import { shareFigure } from '@kettle/core/numbers';
import { channels } from '@kettle/contract';
import { channelsThat } from '@kettle/contract/base/channels';
import type { ReportRow } from '@kettle/contract/numbers/kinds';
import { offsetsIn } from '@kettle/core/time';
import type { Queryable, SqlParameters, SqlValue } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { ownActs, ownActsParameters } from '../../activity/journal/index';
import { readAnswerTallies } from '../../processes/deals/index';
import { closedDeals, wonColumns } from './closed-deals';
import type { Definition } from './definition';
import type { FactColumn, Lines } from './facts';
import { idKey, isAsked, parametersOf, readOwners, type Scope, type Span } from './scope';

/** Minutes that clocks of the zones people live in are ahead of UTC at an entry, in SQL: few zones, and two changes a year. */
async function aheadSql(
  db: Queryable,
  scope: Scope,
  span: Span,
  parameters: Record<string, SqlValue>,
): Promise<string> {
  const { start, end } = parametersOf(scope, span) as { start: string; end: string };
  const zones = await db.rows<Row<'contact', 'zone'>>('SELECT DISTINCT zone FROM contact ORDER BY zone');
  const cases = zones.flatMap(({ zone }, at) => {
    const spans = offsetsIn(zone, instantOfSql(start), instantOfSql(end));
    parameters[`zone${at}`] = zone;
    return spans.map(({ until, minutes }, n) => {
      if (until !== null) parameters[`zone${at}until${n}`] = sqlInstant(until);
      return `WHEN c.zone = :zone${at}${until === null ? '' : ` AND e.at < :zone${at}until${n}`} THEN ${minutes}`;
    });
  });
  return cases.length === 0 ? '0' : `CASE ${cases.join(' ')} ELSE 0 END`;
}

const instantOfSql = (at: string) => `${at.replace(' ', 'T')}Z`;

/** With everybody by name: an index by person serves all of them, and none serves an open question. */
const withAll = async (db: Queryable, scope: Scope): Promise<Scope> =>
  scope.owners === null ? { ...scope, owners: await readOwners(db, scope.who) } : scope;

const ownersParameter = ({ owners }: Scope): SqlParameters => ({
  owners: (owners ?? []).map((id) => bytesOf(id)),
});

/** What of what was tried is answered: by channel, day, hour, or how often it was tried before. */
export const answersReport: Definition = {
  facts: async ({ database: db }, asked, span) => {
    if (asked.by === 'tries') return [];
    const scope = await withAll(db, asked);
    const parameters: Record<string, SqlValue> = { ...ownersParameter(scope), channels };
    const local =
      scope.by === 'weekday' || scope.by === 'hour'
        ? `(e.at + INTERVAL (${await aheadSql(db, scope, span, parameters)}) MINUTE)`
        : '';
    const keys: Partial<Record<ReportRow, string>> = {
      channel: 'e.kind',
      owner: idKey('e.user_id'),
      weekday: `CAST(WEEKDAY(${local}) + 1 AS CHAR)`,
      hour: `CAST(HOUR(${local}) AS CHAR)`,
    };
    const answered = `(SELECT MIN(a.at) FROM journal_entry a WHERE a.contact_id = e.contact_id AND a.counts = 'conversation'
         AND a.removed_at IS NULL AND a.at >= e.at AND a.at <= LEAST(:now, e.at + INTERVAL ${answerWindowDays} DAY))`;
    return [
      {
        record: 'entry',
        sql: `SELECT t.id, t.row_key, t.at_once, t.answered IS NOT NULL AS answered,
                     LEAST(${answerWindowDays}, TIMESTAMPDIFF(DAY, t.at, COALESCE(t.answered, :now))) AS days
                FROM (SELECT e.id, ${keys[scope.by] ?? "''"} AS row_key, e.counts = 'conversation' AS at_once, e.at, ${answered} AS answered
                        FROM journal_entry e JOIN contact c ON c.id = e.contact_id
                       WHERE e.at >= :start AND e.at < :end AND e.kind IN (:channels) AND e.counts <> 'none' AND e.removed_at IS NULL
                         AND (e.direction IS NULL OR e.direction = 'out') AND ${isAsked(scope, 'entry', 'e', 'user_id')}) t`,
        parameters,
        columns: answerColumns(),
      },
    ];
  },
  drawn: { as: 'bars', columns: ['answered', 'at-once'] },
  notes: ({ by }) =>
    by === 'tries'
      ? [
          $localize`Of everybody’s tries in the last two years, as they were counted last night; period and owner say nothing of it.`,
        ]
      : by === 'weekday' || by === 'hour'
        ? [$localize`By the clock of whoever was tried.`]
        : [],
};

const answerColumns = (): readonly FactColumn[] => [
  {
    ...{ key: 'tried', words: $localize`tried`, of: 'TRUE', as: { kind: 'count' } },
    how: $localize`Calls, mails, texts, meetings and visits from us in the period that count as a touch.`,
  },
  {
    ...{ key: 'answered', words: $localize`answered in ${answerWindowDays}:days: days`, of: 'TRUE' },
    as: { kind: 'within', days: 'f.days', happened: 'f.answered', within: answerWindowDays },
    how: $localize`How likely a conversation with the person follows within ${answerWindowDays}:days: days (Kaplan-Meier): what is younger counts as far as it goes.`,
  },
  {
    ...{
      key: 'at-once',
      words: $localize`reached at once`,
      of: 'f.at_once',
      as: { kind: 'share', in: 'TRUE' },
    },
    how: $localize`The try was a conversation itself: the call was answered, the meeting held.`,
  },
];

/** Answers by the number of tries so far, as the nightly count keeps them. */
export async function readAnswersByTries(
  db: Queryable,
): Promise<{ readonly columns: readonly FactColumn[]; readonly lines: Lines }> {
  const tallies = await readAnswerTallies(db);
  return {
    columns: answerColumns().slice(0, 2),
    lines: {
      rows: new Map(
        tallies.map(({ tries, cases, answered }) => [
          tries < 12 ? String(tries) : $localize`12 or more`,
          [{ value: cases }, shareFigure(answered, cases)],
        ]),
      ),
      total: [],
      unconverted: 0,
    },
  };
}

/** Who does how much. */
export const activityReport: Definition = {
  facts: async ({ database: db }, asked) => {
    const scope = await withAll(db, asked);
    const keys: Partial<Record<ReportRow, string>> = {
      owner: idKey('e.user_id'),
      channel: 'e.kind',
      outcome: 'e.outcome_label',
      weekday: 'CAST(WEEKDAY(e.at) + 1 AS CHAR)',
    };
    const acts = {
      record: 'entry' as const,
      sql: `SELECT e.id, ${keys[scope.by] ?? "''"} AS row_key, e.kind, e.counts, e.minutes
              FROM journal_entry e ${ownActs.join}
             WHERE e.at >= :start AND e.at < :end AND ${ownActs.where} AND ${isAsked(scope, 'entry', 'e', 'user_id')}`,
      parameters: {
        ...ownersParameter(scope),
        ...ownActsParameters,
        met: channelsThat(({ isMet }) => isMet === true),
      },
      columns: actColumns(),
    };
    // Deals that were won are their owner's; they have no channel.
    return scope.by === 'owner' ? [acts, closedDeals(asked, 'owner', wonColumns().slice(0, 2))] : [acts];
  },
  drawn: { as: 'stack', columns: ['calls', 'mails', 'met'] },
};

const actColumns = (): readonly FactColumn[] => [
  {
    ...{ key: 'acts', words: $localize`touches`, of: 'TRUE', as: { kind: 'count' } },
    how: $localize`Everything logged in the period, but for what went out by itself or was written to us.`,
  },
  {
    ...{
      key: 'conversations',
      words: $localize`conversations`,
      of: "f.counts = 'conversation'",
      as: { kind: 'count' },
    },
    how: $localize`Touches that both sides took part in.`,
  },
  {
    ...{ key: 'calls', words: $localize`calls`, of: "f.kind = 'call'", as: { kind: 'count' } },
    how: $localize`Calls, answered or not.`,
  },
  {
    ...{
      key: 'mails',
      words: $localize`mails and texts`,
      of: "f.kind IN ('email', 'text')",
      as: { kind: 'count' },
    },
    how: $localize`Mails and texts from us.`,
  },
  {
    ...{ key: 'met', words: $localize`meetings held`, as: { kind: 'count' } },
    of: "f.kind IN (:met) AND f.counts = 'conversation'",
    how: $localize`Meetings and visits that took place.`,
  },
  {
    ...{
      key: 'minutes',
      words: $localize`minutes`,
      of: 'TRUE',
      as: { kind: 'minutes', amount: 'COALESCE(f.minutes, 0)' },
    },
    how: $localize`Minutes that were logged with them.`,
  },
];
