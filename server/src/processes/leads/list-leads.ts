import type { LeadCount, LeadGridFieldKey, LeadQuery, LeadRow } from '@kettle/contract';
import { leadGridFields } from '@kettle/contract';
import type { Queryable, SqlParameters, SqlValue } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { wholeNumber } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import {
  type Clauses,
  filterSql,
  type FilterSetting,
  likeText,
  type ListSql,
  type RecordList,
} from '../../records/grid/index';
import { reachParameters, withinReach } from '../../records/rights/index';
import type { SignedIn } from '../../records/users/index';
import { leadNextStep, readLeadRows } from './lead-rows';

const columns: Record<LeadGridFieldKey, string> = {
  name: 'c.sort_name',
  company: 'COALESCE(c.company_name, l.company_name)',
  subject: 'l.subject',
  source: 'l.source',
  campaign: 'l.campaign',
  warmth: 'l.warmth',
  status: 'l.status',
  tags: '',
  'last-touch': 'c.last_touch_at',
  'next-step': leadNextStep,
  'follow-up': 'l.follow_up_on',
  owner: 'l.owner_id',
  email: 'c.email',
  phone: 'c.phone',
  created: 'l.created_at',
};

/** The undated come last, words that say an order by number come in it. */
const sortColumns: Partial<Record<LeadGridFieldKey, string>> = {
  warmth: "FIELD(l.warmth, 'hot', 'warm', 'cool')",
  'next-step': `COALESCE(${leadNextStep}, '9999-12-31')`,
  'follow-up': "COALESCE(l.follow_up_on, '9999-12-31')",
  owner: '(SELECT o.name FROM app_user o WHERE o.id = l.owner_id)',
};

export const leadSql: ListSql = {
  fields: leadGridFields,
  columns,
  sortColumns,
  id: 'l.id',
  manyTexts: { tags: { table: 'lead_tag', owner: 'lead_id', text: 'tag' } },
  nameKeys: ['c.sort_name'],
  goesOn: {},
  from: (...clauses) =>
    `FROM sales_lead l${/\bc\./.test(clauses.join(' ')) ? ' JOIN contact c ON c.id = l.contact_id' : ''}`,
  sums: {},
};

/** Conditions that hold for rows and for counts by status alike; the rest of a query only narrows the rows. */
function ownClauses(
  query: LeadQuery,
  who: SignedIn,
): { where: string[]; parameters: Record<string, SqlValue> } {
  const where = [
    query.archived === 'yes' ? 'l.archived_at IS NOT NULL' : 'l.archived_at IS NULL',
    withinReach(who, 'lead', 'l'),
  ];
  const parameters: Record<string, SqlValue> = { ...reachParameters(who) };
  if (query.owner === 'mine') {
    where.push('l.owner_id = :me');
    parameters.me = bytesOf(who.id);
  }
  if (query.owner === 'unowned') where.push('l.owner_id IS NULL');
  return { where, parameters };
}

function leadClauses(query: LeadQuery, setting: FilterSetting): Clauses {
  const { where, parameters } = ownClauses(query, setting.who);
  const narrow = (condition: string, name: string, value: SqlValue | undefined) => {
    if (value === undefined) return;
    where.push(condition);
    parameters[name] = value;
  };
  narrow('l.status = :status', 'status', query.status);
  narrow('l.source = :source', 'source', query.source);
  narrow('l.campaign = :campaign', 'campaign', query.campaign);
  narrow('l.warmth = :warmth', 'warmth', query.warmth);
  narrow('l.contact_id = :contact', 'contact', query.contactId && bytesOf(query.contactId));
  narrow('c.company_id = :company', 'company', query.companyId && bytesOf(query.companyId));
  if (query.q !== '')
    narrow(
      '(c.display_name LIKE :words OR c.company_name LIKE :words OR l.company_name LIKE :words OR l.subject LIKE :words OR c.email LIKE :words)',
      'words',
      likeText(query.q),
    );
  if (query.filter !== undefined) {
    const text = filterSql(leadSql, query.filter, setting, parameters);
    if (text !== null) where.push(text);
  }
  return { where: `WHERE ${where.join(' AND ')}`, parameters };
}

/** Leads by status and then the newest, unless another order is asked for. */
export const leadsList: RecordList<LeadQuery, LeadRow> = {
  what: 'leads',
  kind: 'lead',
  subject: 'lead',
  fields: leadGridFields,
  sql: () => leadSql,
  usualSort: [
    { field: 'status', order: 'up' },
    { field: 'created', order: 'down' },
  ],
  usualColumns: 'name,company,email,phone,subject,source,campaign,warmth,status,next-step,owner,created',
  clauses: leadClauses,
  whole: ({ archived }, { who }) => ({
    where: `WHERE l.archived_at IS ${archived === 'yes' ? 'NOT ' : ''}NULL AND ${withinReach(who, 'lead', 'l')}`,
    parameters: { ...reachParameters(who) },
  }),
  rows: (db, ids, { today }) => readLeadRows(db, ids, today),
};

/** What the head of the list offers: counts by status of the owner that was asked for, and sources and campaigns in use. */
export async function readLeadHead(
  db: Queryable,
  query: LeadQuery,
  { who, today }: { readonly who: SignedIn; readonly today: string },
): Promise<Pick<LeadCount, 'counts' | 'sources' | 'campaigns'>> {
  const { where, parameters } = ownClauses(query, who);
  const [counts, sources, campaigns] = await Promise.all([
    countByStatus(db, where.join(' AND '), parameters, today),
    readWords(db, who, 'source'),
    readWords(db, who, 'campaign'),
  ]);
  return { counts, sources, campaigns };
}

async function readWords(db: Queryable, who: SignedIn, column: 'source' | 'campaign'): Promise<string[]> {
  const rows = await db.rows<{ word: string }>(
    `SELECT DISTINCT l.${column} AS word FROM sales_lead l
      WHERE l.${column} IS NOT NULL AND ${withinReach(who, 'lead', 'l')} ORDER BY l.${column} LIMIT 200`,
    reachParameters(who),
  );
  return rows.map(({ word }) => word);
}

const live = "('untried', 'trying', 'in-talks')";

/** Due: nobody has tried it yet, its follow-up has come, it has no next step at all, or it wakes. */
async function countByStatus(
  db: Queryable,
  where: string,
  parameters: SqlParameters,
  today: string,
): Promise<LeadCount['counts']> {
  const rows = await db.rows<Row<'sales_lead', 'status'> & { count: string; due: string }>(
    `SELECT l.status, COUNT(*) AS count,
            SUM(CASE WHEN l.status IN ${live} THEN COALESCE(LEAST(COALESCE(l.follow_up_on, c.next_step_on), COALESCE(c.next_step_on, l.follow_up_on)), :today) <= :today
                     WHEN l.status = 'set-aside' THEN COALESCE(l.wake_on <= :today, 0) ELSE 0 END) AS due
       FROM sales_lead l JOIN contact c ON c.id = l.contact_id WHERE ${where} GROUP BY l.status ORDER BY l.status`,
    { ...parameters, today },
  );
  return rows.map((row) => ({
    status: row.status,
    count: wholeNumber(row.count),
    due: wholeNumber(row.due),
  }));
}
