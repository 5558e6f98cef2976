import type { ContactQuery, GridFieldKey } from '@kettle/contract';
import type { CountedKey } from '@kettle/contract/base/counted';
import { contactPlain, type ContactPlainGridKey } from '@kettle/contract/base/catalogues';
import { gridFields } from '@kettle/contract';
import { nameKey } from '@kettle/core/duplicates';
import type { SqlValue } from '../../platform/database/database';
import { reachParameters, withinReach } from '../rights/index';
import { bytesOf } from '../../platform/ids';
import { countedColumns, type Reader } from '../counted/index';
import { type Clauses, type FilterSetting, type ListSql, filterSql } from '../grid/index';

const plainColumns = Object.fromEntries(
  contactPlain.keys.map((key) => [contactPlain.of(key).grid, `c.${contactPlain.of(key).column}`]),
) as Record<ContactPlainGridKey, string>;

/** Columns of the contact table behind each field; the owner's and standing's own names come by join. */
const columns: Record<Exclude<GridFieldKey, CountedKey<'contact'>>, string> = {
  name: 'c.sort_name',
  company: 'c.company_name',
  'last-touch': 'c.last_touch_at',
  'next-step': 'c.next_step_on',
  'check-in': 'c.next_touch_due',
  standing: 'c.standing_id',
  owner: 'c.owner_id',
  email: 'c.email',
  phone: 'c.phone',
  country: 'c.country',
  zone: 'c.zone',
  ...plainColumns,
  tags: '',
  category: 'c.category',
  'last-conversation': 'c.last_conversation_at',
  created: 'c.created_at',
  'check-in-days': 'c.check_in_days',
};

/** What a list is sorted by: the undated come last, standings go by their order, owners by their names. */
const sortColumns: Partial<Record<GridFieldKey, string>> = {
  'next-step': 'c.next_step_sort',
  'check-in': 'c.check_in_sort',
  standing: '(SELECT s.position FROM standing s WHERE s.id = c.standing_id)',
  owner: '(SELECT o.name FROM app_user o WHERE o.id = c.owner_id)',
};

export const contactSql = (reader: Reader): ListSql => ({
  from: () => 'FROM contact c',
  sums: {},
  fields: gridFields,
  columns: { ...columns, ...countedColumns('contact', reader) },
  sortColumns,
  id: 'c.id',
  manyTexts: { tags: { table: 'contact_tag', owner: 'contact_id', text: 'tag' } },
  nameKeys: ['c.sort_name'],
  goesOn: { company: 'c.sort_name', country: 'c.sort_name', source: 'c.sort_name' },
});

/** The WHERE clause of a view. Every value is a parameter; fields come from the table above or by their id. */
export function contactClauses(query: ContactQuery, setting: FilterSetting): Clauses {
  const parameters: Record<string, SqlValue> = { ...reachParameters(setting.who) };
  const where: string[] = [archivedSql('c', query.archived), withinReach(setting.who, 'contact', 'c')];
  if (query.owner === 'mine') {
    where.push('c.owner_id = :me');
    parameters.me = bytesOf(setting.who.id);
  }
  if (query.owner === 'unowned') where.push('c.owner_id IS NULL');
  if (query.standing !== undefined) {
    where.push('c.standing_id = :standing');
    parameters.standing = bytesOf(query.standing);
  }
  if (query.quiet === 'yes') {
    where.push('c.next_touch_due < :today');
    parameters.today = setting.today;
  }
  addSearch(query.q, where, parameters);
  if (query.filter !== undefined) {
    const text = filterSql(contactSql(setting), query.filter, setting, parameters);
    if (text !== null) where.push(text);
  }
  return { where: `WHERE ${where.join(' AND ')}`, parameters };
}

/** Whether a list is of what is archived or of the rest. */
export const archivedSql = (alias: string, asked: 'yes' | undefined) =>
  `${alias}.archived_at IS ${asked === 'yes' ? 'NOT ' : ''}NULL`;

/** Every word must begin some word of the contact; one letter alone asks for family names that begin with it. */
function addSearch(q: string, where: string[], parameters: Record<string, SqlValue>): void {
  const words = searchWords(q);
  if (words.length > 0) {
    where.push('MATCH (c.search_text) AGAINST (:words IN BOOLEAN MODE)');
    parameters.words = matchAll(words);
  } else if (nameKey(q)) {
    where.push('c.sort_name LIKE :prefix');
    parameters.prefix = `${nameKey(q)}%`;
  }
}

/** Words as the full-text index is asked for all of them, each from its beginning. */
export const matchAll = (words: readonly string[]): string => words.map((word) => `+${word}*`).join(' ');

/** Words of at least two letters or digits; digits typed with spaces or dashes are one number. */
export function searchWords(q: string): string[] {
  if (/^[+\d][\d\s()./-]{3,}$/.test(q)) return [q.replace(/\D/g, '').replace(/^00/, '')];
  return nameKey(q)
    .split(' ')
    .filter((word) => word.length >= 2)
    .slice(0, 8);
}
