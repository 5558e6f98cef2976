import type { CustomSubject, GridCount, GridFieldOf, SortPart } from '@kettle/contract';
import type { ListFile } from '@kettle/contract/base/list-files';
import type { Counted } from '@kettle/contract/base/counted';
import type { Response } from 'express';
import type { Queryable } from '../../platform/database/database';
import { wholeNumber } from '../../platform/database/values';
import { bytesOf, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { readCounted, type Reader } from '../counted/index';
import { readCustomFields } from '../fields/index';
import { type Owned, readableIds } from '../rights/index';
import { readAt, type ReadAt, type SignedIn } from '../users/index';
import { exportList, type WriteCards } from './export-list';
import { filterSetting } from './filter-setting';
import type { Clauses, FilterSetting } from './grid-sql';
import { type ListSql, readCount, readPageIds } from './list-grid';

interface View {
  readonly filter?: unknown;
  readonly sort?: readonly SortPart[] | undefined;
  readonly group?: string | undefined;
}

type Page<Query> = Query &
  View & {
    readonly after: number;
    readonly follows?: string | undefined;
    readonly limit: number;
    readonly counted?: 'yes' | 'no';
  };
type Export<Query> = Query &
  View & { readonly as: ListFile; readonly columns: string; readonly ids?: readonly string[] | undefined };

/** A list of records: which rows a view is of, and how they are read. Pages, counts and files follow from it. */
export interface RecordList<Query, Row> {
  /** As its file is called: `deals`. */
  readonly what: string;
  readonly kind: Owned;
  /** Whose custom fields it has. */
  readonly subject: CustomSubject | null;
  readonly fields: Readonly<Record<string, GridFieldOf<Row>>>;
  /** What kind of records it is of, where what happened with them is counted. */
  readonly counts?: Counted;
  /** Where its fields lie; what is counted of others' records depends on who reads. */
  sql(reader: Reader): ListSql;
  readonly usualSort: readonly SortPart[];
  /** Keys of the columns of a file when none are named. */
  readonly usualColumns: string;
  /** What its clauses need to know beside the usual. */
  setting?(services: Services, query: Query, setting: FilterSetting): Promise<FilterSetting>;
  /** The rows of a view. Every value is a parameter. */
  clauses(query: Query, setting: FilterSetting): Clauses;
  /** The rows that a view is a part of, for the reader to know how many its filter hides. */
  whole(query: Query, setting: FilterSetting): Clauses;
  /** Rows by id, in the order of the ids. */
  rows(db: Queryable, ids: readonly IdBytes[], reader: ReadAt & { who: SignedIn }): Promise<Row[]>;
  /** Of a list of people: their cards. */
  readonly cards?: WriteCards;
}

interface Asked<Query> {
  readonly query: Query;
  readonly who: SignedIn;
}

const mostExported = 1_000_000;

/** The routes of a list: a page of a view, its counts whole and by group, and a file of it. */
export function listRoutes<Query, Row>(services: Services, list: RecordList<Query, Row>) {
  const { database } = services;
  const settingOf = async (query: Query & View, who: SignedIn) => {
    const at = { who, ...readAt(services, who) };
    const setting = await filterSetting(services, query, { ...at, subject: list.subject });
    return list.setting?.(services, query, setting) ?? setting;
  };
  const idsOf = (query: Page<Query>, setting: FilterSetting) =>
    readPageIds(
      database,
      list.sql(setting),
      list.clauses(query, setting),
      { ...query, sort: query.sort ?? list.usualSort },
      setting,
    );
  /** With what is counted of them, where the list is of such records. */
  const rowsOf = async (
    ids: readonly IdBytes[],
    setting: FilterSetting,
    withCounted = true,
  ): Promise<Row[]> => {
    const reader = { ...readAt(services, setting.who), who: setting.who };
    const { counts } = list;
    if (counts === undefined || !withCounted) return database.together((db) => list.rows(db, ids, reader));
    const [rows, counted] = await database.together((db) =>
      Promise.all([list.rows(db, ids, reader), readCounted(db, counts, ids, setting)]),
    );
    return rows.map((row) => ({
      ...row,
      counted: counted.get((row as { id: string }).id.replaceAll('-', '')) ?? {},
    }));
  };
  return {
    page: async ({ query, who }: Asked<Page<Query>>): Promise<{ rows: Row[] }> => {
      const setting = await settingOf(query, who);
      return { rows: await rowsOf(await idsOf(query, setting), setting, query.counted !== 'no') };
    },
    count: async ({ query, who }: Asked<Query & View>): Promise<GridCount> => {
      const setting = await settingOf(query, who);
      const whole = list.whole(query, setting);
      const [count, [all]] = await Promise.all([
        readCount(database, list.sql(setting), list.clauses(query, setting), query.group, setting),
        database.rows<{ total: string }>(
          `SELECT COUNT(*) AS total ${list.sql(setting).from(whole.where)} ${whole.where}`,
          whole.parameters,
        ),
      ]);
      return { ...count, total: wholeNumber(all?.total ?? 0) };
    },
    export: async ({ query, who, response }: Asked<Export<Query>> & { readonly response: Response }) => {
      const setting = await settingOf(query, who);
      const picked = query.ids?.map((id) => bytesOf(id));
      return exportList(
        services,
        { who, response },
        {
          what: list.what,
          as: query.as,
          cards: list.cards,
          fields: list.fields,
          custom: list.subject === null ? [] : await readCustomFields(database, list.subject),
          columns: (query.columns || list.usualColumns).split(','),
          ids: picked
            ? await readableIds(database, who, list.kind, picked)
            : await idsOf({ ...query, after: 0, limit: mostExported }, setting),
          rows: (ids) => rowsOf(ids, setting),
        },
      );
    },
  };
}
