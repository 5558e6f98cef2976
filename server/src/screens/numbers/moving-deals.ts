import { velocity, type Figure } from '@kettle/core/numbers';
import { daysInStages, type Stay } from '@kettle/core/numbers';
import { sayCount } from '@kettle/core/locale';
import type { Queryable, SqlParameters, SqlValue } from '../../platform/database/database';
import { instantOf, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { readStalledLimits, stalledSql } from '../../processes/deals/index';
import { closedDeals, wonColumns } from './closed-deals';
import type { Definition, SingleFigure } from './definition';
import { readLines, type FactColumn, type Facts } from './facts';
import { idKey, isAsked, isInPipeline, parametersOf, spansOf, type Scope, type Span } from './scope';

/** The stage a deal was in at an instant: a closed or parked one is in none. */
const stayAt = (alias: string, at: string) =>
  `${alias}.entered_at < ${at} AND (${alias}.left_at IS NULL OR ${alias}.left_at >= ${at})`;

/** Deals that were open at the end of the span, with how long they had been in their stage. */
async function openDeals(services: Services, scope: Scope, { to }: Span): Promise<Facts> {
  const isToday = to >= scope.today;
  const parameters: Record<string, SqlValue> = {};
  const limits = isToday ? await readStalledLimits(services.database, scope.now) : [];
  const key = scope.by === 'owner' ? idKey('d.owner_id') : idKey('y.stage_id');
  const ofToday = (words: string) => `${words} ${$localize`As it is now: of a past day it is not known.`}`;
  return {
    record: 'deal',
    sql: `SELECT d.id, ${key} AS row_key, d.home_minor AS minor,
                 DATEDIFF(LEAST(:end, :now), y.entered_at) AS days,
                 DATEDIFF(LEAST(:end, :now), y.entered_at) > s.patience_days AS past,
                 ${isToday ? `d.status = 'open' AND ${stalledSql(limits, parameters)}` : 'NULL'} AS stalled,
                 ${isToday ? "d.status = 'open' AND d.next_step_on IS NULL" : 'NULL'} AS loose
            FROM stage_stay y JOIN deal d ON d.id = y.deal_id JOIN stage s ON s.id = y.stage_id
           WHERE ${stayAt('y', ':end')} AND d.archived_at IS NULL
             AND ${isInPipeline(scope, 'y.stage_id')} AND ${isAsked(scope, 'deal', 'd')}`,
    parameters,
    columns: [
      {
        ...{ key: 'open', words: $localize`open`, of: 'TRUE', as: { kind: 'count' } },
        how: $localize`Deals that were open at the end of the period.`,
      },
      {
        ...{ key: 'value', words: $localize`value`, of: 'TRUE', as: { kind: 'money', amount: 'f.minor' } },
        how: $localize`What they are worth today, in the organisation’s currency.`,
      },
      {
        ...{ key: 'past', words: $localize`longer than their stage’s patience`, of: 'f.past' },
        as: { kind: 'share', in: 'TRUE' },
        how: $localize`Of the open ones, those that had been in their stage for more days than its patience.`,
      },
      {
        ...{ key: 'days', words: $localize`days there`, of: 'TRUE', as: { kind: 'middle', days: 'f.days' } },
        how: $localize`The middle of the days they had been in their stage.`,
      },
      ...(isToday
        ? [
            {
              ...({
                key: 'stalled',
                words: $localize`stalled`,
                of: 'f.stalled',
                as: { kind: 'count' },
              } as const),
              how: ofToday(
                $localize`No stage, value, closing day or touch changed for longer than the stage’s patience.`,
              ),
            },
            {
              ...({ key: 'loose', words: $localize`loose`, of: 'f.loose', as: { kind: 'count' } } as const),
              how: ofToday($localize`Without a next step.`),
            },
          ]
        : []),
    ],
  };
}

/** Where open deals stand still. */
export const standstillReport: Definition = {
  facts: async (services, scope, span) => [await openDeals(services, scope, span)],
  drawn: { as: 'bars', columns: ['open', 'stalled', 'loose'] },
};

const paceColumns = (): readonly FactColumn[] => [
  {
    ...{ key: 'entered', words: $localize`entered`, of: 'TRUE', as: { kind: 'count' } },
    how: $localize`Deals that came into the stage in the period; one that came twice counts by its last time.`,
  },
  {
    ...{ key: 'went-on', words: $localize`went on`, of: 'f.went_on', as: { kind: 'share', in: 'TRUE' } },
    how: $localize`Of those, the ones that went on to a later stage or were won.`,
  },
  {
    ...{ key: 'lost', words: $localize`lost there`, of: 'f.lost', as: { kind: 'share', in: 'TRUE' } },
    how: $localize`Of those, the ones that were lost from the stage.`,
  },
  {
    ...{ key: 'there', words: $localize`still there`, of: 'f.there', as: { kind: 'count' } },
    how: $localize`Still in the stage today.`,
  },
  {
    ...{ key: 'half', words: $localize`days to half`, of: 'TRUE' },
    as: { kind: 'half', days: 'f.days', happened: 'f.went_on' },
    how: $localize`After how many days half have gone on (Kaplan-Meier): those still there or lost count as far as they came.`,
  },
  {
    ...{ key: 'mean', words: $localize`mean days`, of: 'TRUE' },
    as: { kind: 'mean', days: 'f.days', happened: 'f.went_on' },
    how: $localize`The plain mean of those that went on. It is too short: the slow ones are still there.`,
  },
];

/** How deals get through stages, and how fast. */
export const paceReport: Definition = {
  facts: (_, scope) => [
    {
      record: 'deal',
      sql: `SELECT d.id, ${idKey('y.stage_id')} AS row_key,
                   y.left_at IS NOT NULL AND IF(n.deal_id IS NULL, d.status = 'won', ns.pipeline_id = s.pipeline_id AND ns.position > s.position) AS went_on,
                   y.left_at IS NOT NULL AND n.deal_id IS NULL AND d.status = 'lost' AS lost, y.left_at IS NULL AS there,
                   DATEDIFF(COALESCE(y.left_at, :now), y.entered_at) AS days
              FROM stage_stay y JOIN deal d ON d.id = y.deal_id JOIN stage s ON s.id = y.stage_id
              LEFT JOIN stage_stay n ON n.deal_id = y.deal_id AND n.number = y.number + 1 LEFT JOIN stage ns ON ns.id = n.stage_id
             WHERE y.entered_at >= :start AND y.entered_at < :end AND ${isInPipeline(scope, 'y.stage_id')} AND ${isAsked(scope, 'deal', 'd')}
               AND NOT EXISTS (SELECT 1 FROM stage_stay z WHERE z.deal_id = y.deal_id AND z.stage_id = y.stage_id AND z.number > y.number)`,
      columns: paceColumns(),
    },
  ],
  drawn: { as: 'bars', columns: ['half', 'mean'] },
  figures: async (services, scope) => {
    const spans = spansOf(scope);
    const [now, before] = await Promise.all([
      readThrough(services, scope, spans.now),
      readThrough(services, scope, spans.before),
    ]);
    const figure = (
      key: keyof Through,
      type: SingleFigure['type'],
      { words, how }: { readonly words: string; readonly how: string },
    ): SingleFigure => ({ ...{ words, how, type }, figure: now[key], before: before[key] });
    return [
      figure('wonAfter', 'days', {
        words: $localize`days from added to won`,
        how: $localize`The middle of those won in the period.`,
      }),
      figure('lostAfter', 'days', {
        words: $localize`days from added to lost`,
        how: $localize`The middle of those lost in the period.`,
      }),
      figure('velocity', 'money', {
        words: $localize`a day at this pace`,
        how: $localize`Deals that were open at the end of the period, times the share won of those closed, times what a won one came to, over the days to win.`,
      }),
    ];
  },
};

type Through = Readonly<Record<'wonAfter' | 'lostAfter' | 'velocity', Figure>>;

/** How long closed deals took, and what deals bring in a day. */
async function readThrough(services: Services, scope: Scope, span: Span): Promise<Through> {
  const { database: db } = services;
  const [, , winRate] = wonColumns();
  const middle = (key: string, of: string): FactColumn => ({
    ...{ key, words: '', how: '', of, as: { kind: 'middle', days: 'f.days' } },
  });
  const parameters = parametersOf(scope, span);
  const [closed, open] = await Promise.all([
    readLines(
      db,
      closedDeals(scope, null, [
        middle('won', 'f.won'),
        middle('lost', 'f.lost'),
        winRate!,
        { key: 'mean', words: '', how: '', of: 'f.won', as: { kind: 'mean-money', amount: 'f.minor' } },
      ]),
      parameters,
    ),
    countOpen(db, scope, parameters),
  ]);
  const [wonAfter, lostAfter, rate, mean] = closed.total as [Figure, Figure, Figure, Figure];
  return {
    ...{ wonAfter, lostAfter },
    velocity: {
      value: velocity({ deals: open, winRate: rate.value, meanMinor: mean.value, days: wonAfter.value }),
    },
  };
}

async function countOpen(db: Queryable, scope: Scope, parameters: SqlParameters): Promise<number> {
  const [row] = await db.rows<{ many: string }>(
    `SELECT COUNT(*) AS many FROM stage_stay y JOIN deal d ON d.id = y.deal_id
      WHERE ${stayAt('y', ':end')} AND d.archived_at IS NULL AND ${isInPipeline(scope, 'y.stage_id')} AND ${isAsked(scope, 'deal', 'd')}`,
    parameters,
  );
  return wholeNumber(row?.many ?? 0);
}

/** Which way a deal went between two stages, or how it left them. */
const way = `CASE WHEN d.status = 'won' AND d.closed_on BETWEEN :from AND :to THEN 'won'
    WHEN d.status = 'lost' AND d.closed_on BETWEEN :from AND :to THEN 'lost'
    WHEN b.deal_id IS NULL THEN 'off' WHEN a.deal_id IS NULL THEN 'new' WHEN a.stage_id = b.stage_id THEN 'still'
    WHEN bs.pipeline_id <> st.pipeline_id OR bs.position > st.position THEN 'forward' ELSE 'back' END`;

const ways = (): readonly { readonly key: string; readonly words: string; readonly how: string }[] => [
  {
    key: 'forward',
    words: $localize`forward`,
    how: $localize`In a later stage, or another pipeline, than at the beginning.`,
  },
  { key: 'back', words: $localize`back`, how: $localize`In an earlier stage than at the beginning.` },
  { key: 'still', words: $localize`still`, how: $localize`In the same stage as at the beginning.` },
  { key: 'new', words: $localize`new`, how: $localize`Added, or opened again, in the period.` },
  { key: 'won', words: $localize`won`, how: $localize`Won in the period.` },
  { key: 'lost', words: $localize`lost`, how: $localize`Lost in the period.` },
  { key: 'off', words: $localize`off the lanes`, how: $localize`Parked, or closed on another day.` },
];

/** How far each deal moved. */
export const movementReport: Definition = {
  facts: (_, scope) => [
    {
      record: 'deal',
      sql: `SELECT d.id, ${scope.by === 'owner' ? idKey('d.owner_id') : `COALESCE(${idKey('a.stage_id')}, '')`} AS row_key, ${way} AS way, d.home_minor AS minor
              FROM (SELECT DISTINCT y.deal_id FROM stage_stay y
                     WHERE y.entered_at < :end AND (y.left_at IS NULL OR y.left_at >= :start) AND ${isInPipeline(scope, 'y.stage_id')}) t
              JOIN deal d ON d.id = t.deal_id
              LEFT JOIN stage_stay a ON a.deal_id = d.id AND ${stayAt('a', ':start')} LEFT JOIN stage st ON st.id = a.stage_id
              LEFT JOIN stage_stay b ON b.deal_id = d.id AND ${stayAt('b', 'LEAST(:end, :now)')} LEFT JOIN stage bs ON bs.id = b.stage_id
             WHERE ${isAsked(scope, 'deal', 'd')}`,
      columns: ways().map(({ key, words, how }) => ({
        ...{ key, words, how, of: `f.way = '${key}'`, as: { kind: 'count' } },
      })),
    },
  ],
  drawn: { as: 'stack', columns: ['forward', 'back', 'still', 'new'] },
  wordsOf: async ({ database }, scope, span, ids) => {
    if (ids.length === 0) return new Map();
    const parameters = parametersOf(scope, span) as { start: string; end: string; now: string };
    const rows = await database.rows<{
      deal_id: IdBytes;
      stage: string;
      entered_at: string;
      left_at: string | null;
    }>(
      `SELECT y.deal_id, s.name AS stage, y.entered_at, y.left_at FROM stage_stay y JOIN stage s ON s.id = y.stage_id
        WHERE y.deal_id IN (:ids) AND y.entered_at < :end AND (y.left_at IS NULL OR y.left_at >= :start)
        ORDER BY y.deal_id, y.number`,
      { ...parameters, ids: ids.map((id) => bytesOf(id)) },
    );
    const stays = new Map<string, Stay[]>();
    for (const row of rows) {
      const id = idOf<string>(row.deal_id);
      const stay = {
        ...{ stage: row.stage, enteredAt: instantOf(row.entered_at) },
        leftAt: row.left_at === null ? null : instantOf(row.left_at),
      };
      stays.set(id, [...(stays.get(id) ?? []), stay]);
    }
    const from = instantOf(parameters.start);
    const until = instantOf(parameters.end < parameters.now ? parameters.end : parameters.now);
    return new Map([...stays].map(([id, all]) => [id, moveWords(all, from, until)]));
  },
};

/** @example “Survey → Offer: 12 days in Survey, 3 days in Offer” */
function moveWords(stays: readonly Stay[], from: string, until: string): string {
  const before = stays[0]!.enteredAt < from ? stays[0]!.stage : $localize`new`;
  const last = stays.at(-1)!;
  const isThere = last.leftAt === null || last.leftAt >= until;
  const path = [before, isThere ? last.stage : $localize`out of ${last.stage}:stage:`];
  const days = daysInStages(stays, from, until).map(
    ({ stage, days: count }) => `${sayCount(count, $localize`day|days`)} ${$localize`in ${stage}:stage:`}`,
  );
  const went = path[0] === path[1] ? path[0]! : path.join(' → ');
  return days.length === 0 ? went : `${went}: ${days.join(', ')}`;
}
