import type { DealGridFieldKey, DealQuery } from '@kettle/contract';
import { dealGridFields } from '@kettle/contract';
import type { CountedKey } from '@kettle/contract/base/counted';
import { mostNotches } from '@kettle/contract/base/notches';
import { dealPlain } from '@kettle/contract/base/catalogues';
import { columnsInGrid } from '@kettle/contract/base/plain-fields';
import type { SqlValue } from '../../platform/database/database';
import { countedColumns, type Reader } from '../../records/counted/index';
import { reachParameters, withinReach } from '../../records/rights/index';
import { bytesOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { readStalledLimits, type StalledLimit, stalledSql } from './stalled';
import {
  type Clauses,
  type FilterSetting,
  type ListSql,
  filterSql,
  likeText,
} from '../../records/grid/index';

const ofStage = (column: string) => `(SELECT st.${column} FROM stage st WHERE st.id = d.stage_id)`;

/** As `chanceOf` in core: a won deal counts whole, a lost one not at all. */
const chance = `CASE d.status WHEN 'won' THEN 1 WHEN 'lost' THEN 0
    ELSE COALESCE(d.win_probability, ${ofStage('win_probability')}) END`;

const weighted = `ROUND(d.home_minor * ${chance})`;

/** As `completionOf` in core. */
const completion = `CASE d.status WHEN 'won' THEN 1
    ELSE ((SELECT COUNT(*) FROM stage b JOIN stage st ON st.id = d.stage_id AND b.pipeline_id = st.pipeline_id
            WHERE (b.position, b.id) < (st.position, st.id)) + d.notches / ${mostNotches + 1})
       / (SELECT COUNT(*) FROM stage b WHERE b.pipeline_id = ${ofStage('pipeline_id')}) END`;

const columns: Record<Exclude<DealGridFieldKey, CountedKey<'deal'>>, string> = {
  name: 'd.name',
  'next-step': 'd.next_step_on',
  close: 'd.expected_close_on',
  value: 'd.home_minor',
  weighted,
  chance,
  notches: 'd.notches',
  completion,
  stage: 'd.stage_id',
  pipeline: ofStage('pipeline_id'),
  owner: 'd.owner_id',
  company: 'co.name',
  contact: 'c.display_name',
  ...columnsInGrid(dealPlain, 'd'),
  'last-touch': 'd.last_touch_at',
  'stage-since': 'd.stage_since',
  competitor: '',
  created: 'd.created_at',
  closed: 'd.closed_on',
  reason: 'd.close_reason',
};

/** Stages of one pipeline after those of another: two of the same place are never mixed, as groups of a list are whole. */
const stageOrder = `(SELECT CONCAT(LPAD(pl.position, 4, '0'), HEX(pl.id), LPAD(st.position, 4, '0'))
    FROM stage st JOIN pipeline pl ON pl.id = st.pipeline_id WHERE st.id = d.stage_id)`;

/** The undated come last, stages go by their order, owners and people by their names. */
const sortColumns: Partial<Record<DealGridFieldKey, string>> = {
  'next-step': 'd.next_step_sort',
  close: 'd.close_sort',
  stage: stageOrder,
  owner: '(SELECT o.name FROM app_user o WHERE o.id = d.owner_id)',
  contact: 'c.sort_name',
};

export const dealSql = (reader: Reader): ListSql => ({
  fields: dealGridFields,
  columns: { ...columns, ...countedColumns('deal', reader) },
  sortColumns,
  id: 'd.id',
  manyTexts: { competitor: { table: 'deal_competitor', owner: 'deal_id', text: 'name' } },
  nameKeys: [],
  goesOn: {},
  from: dealsFrom,
  sums: { value: 'd.home_minor', weighted, unvalued: 'd.home_minor IS NULL' },
});

/** What a list of deals is read from: names are joined only where a clause asks for them, so that an index can serve alone. */
function dealsFrom(...clauses: readonly string[]): string {
  const text = clauses.join(' ');
  const company = /\bco\./.test(text) ? ' LEFT JOIN company co ON co.id = d.company_id' : '';
  const contact = /\bc\./.test(text) ? ' LEFT JOIN contact c ON c.id = d.contact_id' : '';
  return `FROM deal d${company}${contact}`;
}

/** What filters of deals need to know beside the rest: since when one is stalled, where stalled ones are asked for. */
export type DealSetting = FilterSetting & { readonly stalled?: readonly StalledLimit[] };

/** The setting of a view of deals. */
export const dealSetting = async <Setting extends FilterSetting>(
  { database, clock }: Services,
  query: Pick<DealQuery, 'show'>,
  setting: Setting,
): Promise<Setting & DealSetting> =>
  query.show === 'stalled'
    ? { ...setting, stalled: await readStalledLimits(database, clock.now()) }
    : setting;

/** The WHERE clause of a view of deals, over `dealsFrom`. Every value is a parameter. */
export function dealClauses(query: DealQuery, setting: DealSetting): Clauses {
  const parameters: Record<string, SqlValue> = {
    ...reachParameters(setting.who),
    today: setting.today,
    me: bytesOf(setting.who.id),
  };
  const where: string[] = [withinReach(setting.who, 'deal', 'd')];
  if (query.status === 'archived') where.push('d.archived_at IS NOT NULL');
  else if (query.status !== 'any') {
    // Indexes of every order begin with both.
    where.push('d.status = :status', 'd.archived_at IS NULL');
    parameters.status = query.status;
  }
  if (query.owner === 'mine') where.push('d.owner_id = :me');
  if (query.owner === 'team')
    where.push(
      '(d.owner_id = :me OR EXISTS (SELECT 1 FROM deal_colleague t WHERE t.deal_id = d.id AND t.user_id = :me))',
    );
  if (query.pipeline !== undefined) {
    where.push('d.stage_id IN (SELECT st.id FROM stage st WHERE st.pipeline_id = :pipeline)');
    parameters.pipeline = bytesOf(query.pipeline);
  }
  if (query.contact !== undefined) {
    where.push(
      '(d.contact_id = :contact OR d.id IN (SELECT p.deal_id FROM deal_person p WHERE p.contact_id = :contact))',
    );
    parameters.contact = bytesOf(query.contact);
  }
  const tether =
    query.show === 'stalled' ? stalledSql(setting.stalled ?? [], parameters) : tetherSql[query.show];
  if (tether !== null) where.push("d.status = 'open'", tether);
  const day =
    query.status === 'open' || query.status === 'parked'
      ? 'd.expected_close_on'
      : 'COALESCE(d.closed_on, d.expected_close_on)';
  for (const [name, sign] of [
    ['from', '>='],
    ['to', '<='],
  ] as const) {
    const date = query[name];
    if (date === undefined) continue;
    where.push(`${day} ${sign} :${name}`);
    parameters[name] = date;
  }
  if (query.q !== '') {
    where.push('(d.name LIKE :words OR co.name LIKE :words OR c.display_name LIKE :words)');
    parameters.words = likeText(query.q);
  }
  if (query.filter !== undefined) {
    const text = filterSql(dealSql(setting), query.filter, setting, parameters);
    if (text !== null) where.push(text);
  }
  return { where: where.length ? `WHERE ${where.join(' AND ')}` : '', parameters };
}

const tetherSql: Record<Exclude<DealQuery['show'], 'stalled'>, string | null> = {
  all: null,
  late: 'd.next_step_on < :today',
  today: 'd.next_step_on = :today',
  held: 'd.next_step_on > :today',
  loose: 'd.next_step_on IS NULL',
};
