import type { Wording } from '@kettle/contract';
import type { Call } from '../../platform/http/bind-routes';
import type { Queryable } from '../../platform/database/database';
import type { Row, Tables } from '../../platform/database/schema.generated';
import { instantOf, instantOrNull, jsonOf } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';
import { Problem } from '../../platform/problem';

type WordingRow = Row<
  'wording',
  | 'id'
  | 'act'
  | 'template_id'
  | 'snippet_id'
  | 'cadence_id'
  | 'name'
  | 'asked'
  | 'author_id'
  | 'at'
  | 'state'
  | 'decided_at'
  | 'said'
  | 'version'
> & { author_name: Tables['app_user']['name']; decided_by_name: Tables['app_user']['name'] | null };

const select = `SELECT o.id, o.act, o.template_id, o.snippet_id, o.cadence_id, o.name, o.asked, o.author_id, o.at, o.state,
    o.decided_at, o.said, o.version, u.name AS author_name, d.name AS decided_by_name
  FROM wording o JOIN app_user u ON u.id = o.author_id LEFT JOIN app_user d ON d.id = o.decided_by`;

const wordingOf = (row: WordingRow): Wording => ({
  id: idOf(row.id),
  act: row.act,
  templateId: idOrNull(row.template_id),
  snippetId: idOrNull(row.snippet_id),
  cadenceId: idOrNull(row.cadence_id),
  name: row.name,
  state: row.state,
  authorId: idOf(row.author_id),
  authorName: row.author_name,
  at: instantOf(row.at),
  decidedByName: row.decided_by_name,
  decidedAt: instantOrNull(row.decided_at),
  said: row.said,
  asked: jsonOf(row.asked) as Wording['asked'],
  version: row.version,
});

/** The latest of them, at most 100. */
export async function listWordings(db: Queryable, asked: Call<'listWordings'>['query']): Promise<Wording[]> {
  const wheres = [
    asked.state && 'o.state = :state',
    asked.templateId && 'o.template_id = :template',
    asked.snippetId && 'o.snippet_id = :snippet',
    asked.cadenceId && 'o.cadence_id = :cadence',
  ].filter((each) => !!each);
  const rows = await db.rows<WordingRow>(
    `${select} ${wheres.length > 0 ? `WHERE ${wheres.join(' AND ')}` : ''}
      ORDER BY COALESCE(o.decided_at, o.at) DESC, o.id DESC LIMIT 100`,
    {
      state: asked.state ?? null,
      template: bytesOf(asked.templateId),
      snippet: bytesOf(asked.snippetId),
      cadence: bytesOf(asked.cadenceId),
    },
  );
  return rows.map(wordingOf);
}

/** @throws Problem `not-found` */
export async function readWording(db: Queryable, id: string, lock: '' | 'FOR UPDATE' = ''): Promise<Wording> {
  if (lock)
    await db.rows<{ id: IdBytes }>(`SELECT id FROM wording WHERE id = :id ${lock}`, { id: bytesOf(id) });
  const [row] = await db.rows<WordingRow>(`${select} WHERE o.id = :id`, { id: bytesOf(id) });
  if (!row) throw new Problem('not-found');
  return wordingOf(row);
}
