import type { Task, TaskGridFieldKey, TaskQuery } from '@kettle/contract';
import { taskGridFields } from '@kettle/contract';
import type { SqlValue } from '../../platform/database/database';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import {
  type Clauses,
  filterSql,
  type FilterSetting,
  likeText,
  type ListSql,
  type RecordList,
} from '../../records/grid/index';
import { dayOwner, reachParameters, withinReach } from '../../records/rights/index';
import type { SignedIn } from '../../records/users/index';
import { readTasksOf } from './tasks';

const columns: Record<TaskGridFieldKey, string> = {
  due: 't.due_on',
  purpose: 't.purpose',
  person: 'c.sort_name',
  company: 'co.name',
  deal: 'd.name',
  channel: 't.channel',
  minutes: 't.minutes',
  owner: 't.owner_id',
  state: 't.state',
  moved: 't.times_moved',
  finished: 't.finished_at',
};

const joins = [
  [/\bc\./, 'LEFT JOIN contact c ON c.id = t.contact_id'],
  [/\bco\./, 'LEFT JOIN company co ON co.id = t.company_id'],
  [/\bd\./, 'LEFT JOIN deal d ON d.id = t.deal_id'],
] as const;

const taskSql: ListSql = {
  fields: taskGridFields,
  columns,
  sortColumns: {
    person: 'c.sort_name',
    owner: '(SELECT o.name FROM app_user o WHERE o.id = t.owner_id)',
  },
  id: 't.id',
  manyTexts: {},
  nameKeys: ['c.sort_name'],
  goesOn: {},
  from: (...clauses) => {
    const text = clauses.join(' ');
    const asked = joins.filter(([name]) => name.test(text)).map(([, join]) => ` ${join}`);
    return `FROM task t${asked.join('')}`;
  },
  sums: { minutes: 't.minutes' },
};

/**
 * Tasks of one person or of everybody. Relies on task_owner_due, task_state and task_finished.
 * @throws Problem `not-allowed` for a rep who asks for the team's
 */
function ownClauses(
  query: TaskQuery,
  who: SignedIn,
): { where: string[]; parameters: Record<string, SqlValue> } {
  if (query.owner === 'given')
    return {
      where: ['t.made_by = :me', 't.owner_id <> :me', withinReach(who, 'task', 't')],
      parameters: { ...reachParameters(who), me: bytesOf(who.id) },
    };
  const asked = query.owner === 'mine' ? who.id : query.owner === 'team' ? null : query.owner;
  // Everybody may read; the whole team at once is a manager's view.
  if (asked === null && who.role === 'rep') throw new Problem('not-allowed');
  const owner = asked === null ? null : dayOwner(who, asked);
  const parameters: Record<string, SqlValue> = { ...reachParameters(who) };
  if (owner === null) return { where: [withinReach(who, 'task', 't')], parameters };
  return { where: ['t.owner_id = :owner'], parameters: { ...parameters, owner: bytesOf(owner) } };
}

function taskClauses(query: TaskQuery, setting: FilterSetting): Clauses {
  const { where, parameters } = ownClauses(query, setting.who);
  if (query.state !== 'all') where.push(`t.state = '${query.state}'`);
  if (query.channel) {
    where.push('t.channel = :channel');
    parameters.channel = query.channel;
  }
  if (query.due) {
    where.push(`t.due_on ${{ late: '<', today: '=', ahead: '>' }[query.due]} :today`);
    parameters.today = setting.today;
  }
  if (query.q !== '') {
    where.push(
      '(t.purpose LIKE :words OR c.display_name LIKE :words OR co.name LIKE :words OR d.name LIKE :words)',
    );
    parameters.words = likeText(query.q);
  }
  if (query.filter !== undefined) {
    const text = filterSql(taskSql, query.filter, setting, parameters);
    if (text !== null) where.push(text);
  }
  return { where: `WHERE ${where.join(' AND ')}`, parameters };
}

export const tasksList: RecordList<TaskQuery, Task> = {
  what: 'tasks',
  kind: 'task',
  subject: null,
  fields: taskGridFields,
  sql: () => taskSql,
  usualSort: [{ field: 'due', order: 'up' }],
  usualColumns: 'due,purpose,person,company,deal,channel,minutes,owner,state',
  clauses: taskClauses,
  whole: (query, { who }) => {
    const { where, parameters } = ownClauses(query, who);
    return { where: `WHERE ${where.join(' AND ')}`, parameters };
  },
  rows: (db, ids) => readTasksOf(db, ids),
};
