import { isDuplicateKey, type Queryable } from '../../platform/database/database';
import type { Call } from '../../platform/http/bind-routes';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, newId } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import { mergeChange } from '../../platform/work/merge-change';
import type { PersonWork } from '../../platform/work/work';
import type { SnippetId, TemplateId, WordingId } from '@kettle/contract';
import { assertMayRelease, recordWording } from '../../records/wordings/index';
import { factCatalogue } from './facts';
import { fill, type Facts } from './fill';
import { listSnippets, readSnippet, readTemplate } from './template-rows';

const snippetFields = { name: { column: 'name' }, body: { column: 'body' } };
const templateFields = {
  ...snippetFields,
  channel: { column: 'channel' },
  subject: { column: 'subject' },
  isRetired: { column: 'retired_at', read: (text: string | null) => text !== null },
};

/**
 * A new template. With a draft it is the draft that is released by it.
 * @throws Problem `needs-release`, `already-exists`, `invalid-request` with the line that cannot be read
 */
export async function createTemplate(
  w: PersonWork,
  body: Call<'createTemplate'>['body'],
  draftId?: WordingId,
): Promise<TemplateId> {
  await assertMayRelease(w.services, w.who);
  await assertReadable(w, body);
  const id = newId<TemplateId>();
  await unlessTaken(body.name, () =>
    w.change(
      `INSERT INTO template (id, name, channel, subject, body, created_at)
       VALUES (:id, :name, :channel, :subject, :body, :now)`,
      { id: bytesOf(id), ...body, now: sqlInstant(w.now) },
    ),
  );
  await recordWording(w, { act: 'createTemplate', templateId: id, name: body.name, kept: body, draftId });
  w.say($localize`Template “${body.name}:name:” created`);
  return id;
}

/** @throws Problem `needs-release`, `stale`, `already-exists`, `invalid-request` with the line that cannot be read */
export async function changeTemplate(
  w: PersonWork,
  id: TemplateId,
  asked: Call<'changeTemplate'>['body'],
  draftId?: WordingId,
): Promise<void> {
  await assertMayRelease(w.services, w.who);
  await w.rows('SELECT 1 FROM template WHERE id = :id FOR UPDATE', { id: bytesOf(id) });
  const record = await readTemplate(w, id);
  const change = { table: 'template', id, fields: templateFields, asked, record };
  const { isRetired, version: _, resolved: __, ...written } = await mergeChange(w, change);
  await assertReadable(w, written);
  await unlessTaken(written.name, () =>
    w.change(
      `UPDATE template SET name = :name, channel = :channel, subject = :subject, body = :body,
              retired_at = ${isRetired ? 'COALESCE(retired_at, :now)' : 'NULL'}, version = version + 1
        WHERE id = :id`,
      { ...written, id: bytesOf(id), now: sqlInstant(w.now) },
    ),
  );
  const kept = { ...written, isRetired };
  await recordWording(w, { act: 'changeTemplate', templateId: id, name: written.name, kept, draftId });
  w.say($localize`Template “${written.name}:name:” changed`);
}

/** @throws Problem `needs-release`, `already-exists` */
export async function createSnippet(
  w: PersonWork,
  body: Call<'createSnippet'>['body'],
  draftId?: WordingId,
): Promise<SnippetId> {
  await assertMayRelease(w.services, w.who);
  const id = newId<SnippetId>();
  await unlessTaken(body.name, () =>
    w.change('INSERT INTO snippet (id, name, body) VALUES (:id, :name, :body)', { id: bytesOf(id), ...body }),
  );
  await recordWording(w, { act: 'createSnippet', snippetId: id, name: body.name, kept: body, draftId });
  return id;
}

/** @throws Problem `needs-release`, `stale`, `already-exists` */
export async function changeSnippet(
  w: PersonWork,
  id: SnippetId,
  asked: Call<'changeSnippet'>['body'],
  draftId?: WordingId,
): Promise<void> {
  await assertMayRelease(w.services, w.who);
  await w.rows('SELECT 1 FROM snippet WHERE id = :id FOR UPDATE', { id: bytesOf(id) });
  const record = await readSnippet(w, id);
  const change = { table: 'snippet', id, fields: snippetFields, asked, record };
  const { name, body } = await mergeChange(w, change);
  await unlessTaken(name, () =>
    w.change('UPDATE snippet SET name = :name, body = :body, version = version + 1 WHERE id = :id', {
      id: bytesOf(id),
      name,
      body,
    }),
  );
  await recordWording(w, { act: 'changeSnippet', snippetId: id, name, kept: { name, body }, draftId });
  w.say($localize`Text “${name}:name:” changed`);
}

/** A text that cannot be read, or asks for a fact there is not, is told of before it is kept. */
async function assertReadable(tx: Queryable, text: { subject: string; body: string }): Promise<void> {
  const facts: Record<string, Record<string, string>> = {};
  for (const { name, example } of factCatalogue) {
    const [group, fact] = name.split('.') as [string, string];
    (facts[group] ??= {})[fact] = example;
  }
  const snippets = Object.fromEntries((await listSnippets(tx)).map(({ name, body }) => [name, body]));
  const { wrong } = fill(text, facts satisfies Facts, snippets);
  if (wrong.length > 0)
    throw new Problem(
      'invalid-request',
      {},
      {
        fields: wrong.map((words) => ({
          path: words.startsWith('subject') ? 'subject' : 'body',
          message: words,
        })),
      },
    );
}

async function unlessTaken<Result>(name: string, act: () => Promise<Result>): Promise<Result> {
  try {
    return await act();
  } catch (error) {
    if (isDuplicateKey(error))
      throw new Problem('already-exists', { what: $localize`The name “${name}:name:”` });
    throw error;
  }
}
