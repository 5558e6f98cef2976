import { mailBox, type MailBox, type MailGridFieldKey, type MailQuery, type MailRow } from '@kettle/contract';
import { mailGridFields } from '@kettle/contract';
import type { Queryable, SqlValue } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf } from '../../platform/ids';
import {
  type Clauses,
  filterSql,
  type FilterSetting,
  likeText,
  type ListSql,
  type RecordList,
} from '../../records/grid/index';
import { reachParameters } from '../../records/rights/index';
import type { SignedIn } from '../../records/users/index';
import { isInBoxes, readMailRows } from './mail-rows';

const columns: Record<MailGridFieldKey, string> = {
  with: "IF(m.direction = 'in', COALESCE(NULLIF(m.from_name, ''), m.from_address), COALESCE(c.display_name, m.to_address))",
  subject: 'm.subject',
  opening: 'm.text',
  at: 'm.at',
  address: "IF(m.direction = 'in', m.from_address, m.to_address)",
  person: 'c.display_name',
  company: 'c.company_name',
  deal: 'd.name',
  kind: 'm.kind',
  state: 'm.state',
  said: 'm.said',
  owner: 'm.user_id',
};

const joins = [
  [/\bc\./, 'LEFT JOIN contact c ON c.id = m.contact_id'],
  [/\bd\./, 'LEFT JOIN deal d ON d.id = m.deal_id'],
] as const;

const mailSql: ListSql = {
  fields: mailGridFields,
  columns,
  sortColumns: {
    person: 'c.sort_name',
    owner: '(SELECT o.name FROM app_user o WHERE o.id = m.user_id)',
  },
  id: 'm.id',
  manyTexts: {},
  nameKeys: ['m.at'],
  goesOn: {},
  from: (...clauses) => {
    const text = clauses.join(' ');
    return `FROM mail m${joins.flatMap(([name, join]) => (name.test(text) ? [` ${join}`] : [])).join('')}`;
  },
  sums: {},
};

/** Where a mail is looked for. What is being handed over still waits, as far as anybody can see. */
const statesOf: Readonly<Record<MailBox, readonly MailRow['state'][]>> = {
  unfiled: ['unfiled'],
  held: ['held'],
  waiting: ['waiting', 'handing-over'],
  sent: ['sent', 'failed', 'withdrawn'],
  filed: ['filed'],
  'let-go': ['let-go'],
};

/** The box, or all of a person; what belongs to a person is open to whoever may read the person. */
function ownClauses(
  { box, contactId }: MailQuery,
  who: SignedIn,
): { where: string[]; parameters: Record<string, SqlValue> } {
  const where = [contactId === undefined ? isInBoxes(who) : 'm.contact_id = :contact'];
  const parameters: Record<string, SqlValue> = { ...reachParameters(who), contact: bytesOf(contactId) };
  if (box !== undefined) {
    where.push('m.state IN (:states)');
    parameters.states = [...statesOf[box]];
  }
  return { where, parameters };
}

function mailClauses(query: MailQuery, setting: FilterSetting): Clauses {
  const { where, parameters } = ownClauses(query, setting.who);
  if (query.q !== '') {
    where.push(
      '(m.subject LIKE :words OR m.from_name LIKE :words OR m.from_address LIKE :words OR m.to_address LIKE :words OR c.display_name LIKE :words)',
    );
    parameters.words = likeText(query.q);
  }
  if (query.filter !== undefined) {
    const text = filterSql(mailSql, query.filter, setting, parameters);
    if (text !== null) where.push(text);
  }
  return { where: `WHERE ${where.join(' AND ')}`, parameters };
}

/** Mail of a box, the newest first unless another order is asked for. */
export const mailList: RecordList<MailQuery, MailRow> = {
  what: 'mail',
  kind: 'mail',
  subject: null,
  fields: mailGridFields,
  sql: () => mailSql,
  usualSort: [{ field: 'at', order: 'down' }],
  usualColumns: 'at,with,address,subject,person,company,deal,kind,state,owner',
  clauses: mailClauses,
  whole: (query, { who }) => {
    const { where, parameters } = ownClauses(query, who);
    return { where: `WHERE ${where.join(' AND ')}`, parameters };
  },
  rows: (db, ids, { who }) => readMailRows(db, who, ids),
};

/** How many each box of somebody holds. */
export async function countBoxes(db: Queryable, who: SignedIn): Promise<Record<MailBox, number>> {
  const rows = await db.rows<Row<'mail', 'state'> & { n: string }>(
    `SELECT m.state, COUNT(*) AS n FROM mail m WHERE ${isInBoxes(who)} GROUP BY m.state`,
    reachParameters(who),
  );
  const inBox = (box: MailBox) =>
    rows.filter(({ state }) => statesOf[box].includes(state)).reduce((sum, { n }) => sum + Number(n), 0);
  return Object.fromEntries(mailBox.options.map((box) => [box, inBox(box)])) as Record<MailBox, number>;
}
