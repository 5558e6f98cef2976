import type { ReportRow } from '@kettle/contract/numbers/kinds';
import { channelKinds, channelNames } from '@kettle/contract/base/channels';
import { sayHour, sayIsoWeekday, sayMonth } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import { idOf, type IdBytes } from '../../platform/ids';
import { saidNow } from '../../platform/language/language';
import { noKey } from './scope';

/** What rows are called, and their order where it is not that of their size. */
export interface RowNames {
  /** @param all the keys of all rows: what they have in common need not be said */
  nameOf(key: string, all: readonly string[]): string;
  readonly order: readonly string[] | null;
}

/** How late a closing was against its day, in days from and to. */
export const latenesses = [
  { key: 'early-30', from: null, to: -31 },
  { key: 'early-7', from: -30, to: -8 },
  { key: 'on', from: -7, to: 7 },
  { key: 'late-7', from: 8, to: 30 },
  { key: 'late-30', from: 31, to: 90 },
  { key: 'late-90', from: 91, to: null },
] as const;

const latenessName = (key: string): string => {
  switch (key) {
    case 'early-30':
      return $localize`more than 30 days early`;
    case 'early-7':
      return $localize`8 to 30 days early`;
    case 'on':
      return $localize`within 7 days`;
    case 'late-7':
      return $localize`8 to 30 days late`;
    case 'late-30':
      return $localize`31 to 90 days late`;
    default:
      return $localize`more than 90 days late`;
  }
};

const hours = Array.from({ length: 24 }, (_, hour) => String(hour));
const weekdays = ['1', '2', '3', '4', '5', '6', '7'];

/** The names of a kind of rows. */
export async function readRowNames(db: Queryable, by: ReportRow): Promise<RowNames> {
  const text = (none: string): RowNames => ({ nameOf: (key) => (key === noKey ? none : key), order: null });
  const listed = (order: readonly string[], nameOf: (key: string) => string): RowNames => ({ nameOf, order });
  switch (by) {
    case 'stage':
      return readStages(db);
    case 'owner':
      return readTable(db, 'SELECT id, name FROM app_user ORDER BY name, id', $localize`nobody’s`, false);
    case 'standing':
      return readTable(db, 'SELECT id, name FROM standing ORDER BY position, id', '', true);
    case 'reason':
      return text($localize`without a reason`);
    case 'competitor':
      return text($localize`nobody named`);
    case 'source':
      return text($localize`without a source`);
    case 'outcome':
      return text($localize`without an outcome`);
    case 'month':
      return { nameOf: (key) => `${sayMonth(`${key}-01`, 'short')} ${key.slice(0, 4)}`, order: [] };
    case 'lateness':
      return listed(
        latenesses.map(({ key }) => key),
        latenessName,
      );
    case 'channel':
      return listed(channelNames, (key) =>
        key in channelKinds ? saidNow(channelKinds[key as keyof typeof channelKinds].label) : key,
      );
    case 'weekday':
      return listed(weekdays, (key) => sayIsoWeekday(Number(key)));
    case 'hour':
      return listed(hours, (key) => `${sayHour(Number(key))} – ${sayHour(Number(key) + 1)}`);
    case 'tries':
    case 'figure':
      return { nameOf: (key) => key, order: [] };
  }
}

async function readTable(db: Queryable, sql: string, none: string, isOrdered: boolean): Promise<RowNames> {
  const rows = await db.rows<{ id: IdBytes; name: string }>(sql);
  const names = new Map(rows.map(({ id, name }) => [keyOf(id), name]));
  return { nameOf: (key) => names.get(key) ?? none, order: isOrdered ? [...names.keys()] : null };
}

/** Stages in their order; those of several pipelines are named with theirs. */
async function readStages(db: Queryable): Promise<RowNames> {
  const rows = await db.rows<{ id: IdBytes; name: string; pipeline_id: IdBytes; pipeline: string }>(
    `SELECT s.id, s.name, s.pipeline_id, p.name AS pipeline FROM stage s JOIN pipeline p ON p.id = s.pipeline_id
      ORDER BY p.position, p.id, s.position, s.id`,
  );
  const stages = new Map(rows.map((row) => [keyOf(row.id), row]));
  return {
    nameOf: (key, all) => {
      const stage = stages.get(key);
      if (stage === undefined) return $localize`not there yet`;
      const isAlone = all.every((each) => (stages.get(each)?.pipeline ?? stage.pipeline) === stage.pipeline);
      return isAlone ? stage.name : `${stage.name} · ${stage.pipeline}`;
    },
    order: [noKey, ...stages.keys()],
  };
}

/** An id as a row's key: as `idKey` writes it in SQL. */
export const keyOf = (id: IdBytes): string => idOf<string>(id).replaceAll('-', '');
