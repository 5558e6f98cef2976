import type { Filled, Snippet, Template } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { readFacts } from './facts';
import { fill } from './fill';
import type { Row } from '../../platform/database/schema.generated';

interface TemplateRow extends Row<
  'template',
  'id' | 'name' | 'channel' | 'subject' | 'body' | 'retired_at' | 'version'
> {
  uses: string;
}

/** A cadence uses a template when its current version names it. */
const select = `SELECT t.id, t.name, t.channel, t.subject, t.body, t.retired_at, t.version,
    (SELECT COUNT(*) FROM cadence ca JOIN cadence_version v ON v.id = ca.current_version_id
      WHERE ca.retired_at IS NULL AND v.definition LIKE CONCAT('%', LOWER(INSERT(INSERT(INSERT(INSERT(HEX(t.id), 9, 0, '-'), 14, 0, '-'),
        19, 0, '-'), 24, 0, '-')), '%')) AS uses
  FROM template t`;

export async function listTemplates(db: Queryable): Promise<Template[]> {
  const rows = await db.rows<TemplateRow>(`${select} ORDER BY t.retired_at IS NOT NULL, t.name, t.id`);
  const files = await db.rows<Row<'stored_file', 'id' | 'name' | 'size'> & { template_id: IdBytes }>(
    `SELECT id, name, size, template_id FROM stored_file
      WHERE template_id IS NOT NULL AND is_complete AND removed_at IS NULL ORDER BY created_at, id`,
  );
  return rows.map((row) => ({
    id: idOf(row.id),
    name: row.name,
    channel: row.channel,
    subject: row.subject,
    body: row.body,
    isRetired: row.retired_at !== null,
    uses: wholeNumber(row.uses),
    files: files
      .filter((file) => file.template_id.equals(row.id))
      .map((file) => ({ id: idOf(file.id), name: file.name, size: file.size })),
    version: row.version,
  }));
}

/** @throws Problem `not-found` */
export async function readTemplate(db: Queryable, id: string): Promise<Template> {
  const found = (await listTemplates(db)).find((template) => template.id === id);
  if (!found) throw new Problem('not-found');
  return found;
}

export async function listSnippets(db: Queryable): Promise<Snippet[]> {
  const rows = await db.rows<Row<'snippet', 'id' | 'name' | 'body' | 'version'>>(
    'SELECT id, name, body, version FROM snippet ORDER BY name',
  );
  return rows.map((row) => ({ id: idOf(row.id), name: row.name, body: row.body, version: row.version }));
}

/** @throws Problem `not-found` */
export async function readSnippet(db: Queryable, id: string): Promise<Snippet> {
  const found = (await listSnippets(db)).find((snippet) => snippet.id === id);
  if (!found) throw new Problem('not-found');
  return found;
}

export interface Sender {
  readonly name: string;
  readonly email: string;
  readonly zone: string;
}

/** A text filled for one person, as it would be sent by the sender. */
export async function fillFor(
  db: Queryable,
  { clock, settings }: Services,
  text: { readonly subject: string; readonly body: string },
  about: { readonly contactId: string; readonly dealId: string | null; readonly sender: Sender },
): Promise<Filled> {
  const { organisation } = await settings.read(db);
  const sender = { ...about.sender, organisation: organisation.name || null };
  const facts = await readFacts(db, { ...about, sender, now: clock.now() });
  const snippets = Object.fromEntries((await listSnippets(db)).map(({ name, body }) => [name, body]));
  return fill(text, facts, snippets);
}

/** The plain text of a template. @throws Problem `not-found` */
export async function readText(
  db: Queryable,
  id: string,
): Promise<{ readonly subject: string; readonly body: string; readonly name: string }> {
  const [row] = await db.rows<Row<'template', 'subject' | 'body' | 'name'>>(
    'SELECT subject, body, name FROM template WHERE id = :id',
    { id: bytesOf(id) },
  );
  if (!row) throw new Problem('not-found');
  return row;
}
