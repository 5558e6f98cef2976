import type { SnippetId, TemplateId } from '@kettle/contract';
import { isDuplicateKey, type Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf, newId } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { factCatalogue } from './facts';
import { fill, type Facts } from './fill';
import { fillFor, listSnippets, listTemplates, readTemplate } from './template-rows';
import { mergeChange } from '../../platform/work/merge-change';
import { work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

type Names =
  | 'listTemplates'
  | 'createTemplate'
  | 'fillText'
  | 'changeTemplate'
  | 'createSnippet'
  | 'changeSnippet'
  | 'removeSnippet'
  | 'changeMySignature';

const snippetFields = { name: { column: 'name' }, body: { column: 'body' } };
const templateFields = {
  ...snippetFields,
  channel: { column: 'channel' },
  subject: { column: 'subject' },
  isRetired: { column: 'retired_at', read: (text: string | null) => text !== null },
};

export function templatesRoutes(services: Services): Pick<Handlers, Names> {
  const { database } = services;

  const snippetNamed = async (id: string, db: Queryable = database) => {
    const found = (await listSnippets(db)).find((snippet) => snippet.id === id);
    if (!found) throw new Problem('not-found');
    return found;
  };

  return {
    listTemplates: async ({ who }) => {
      const [me] = await database.rows<Row<'app_user', 'signature'>>(
        'SELECT signature FROM app_user WHERE id = :id',
        { id: bytesOf(who.id) },
      );
      return {
        templates: await listTemplates(database),
        snippets: await listSnippets(database),
        facts: [...factCatalogue],
        signature: me?.signature ?? '',
      };
    },
    fillText: ({ body, who }) => fillFor(database, services, body, { ...body, sender: who }),
    createTemplate: async ({ body, who }) => {
      const made = await work(services, who, async (w) => {
        const id = newId<TemplateId>();
        await assertReadable(w, body);
        await unlessTaken(body.name, () =>
          w.change(
            `INSERT INTO template (id, name, channel, subject, body, created_at)
             VALUES (:id, :name, :channel, :subject, :body, :now)`,
            { id: bytesOf(id), ...body, now: sqlInstant(w.now) },
          ),
        );
        w.say(`Template “${body.name}” created`);
        return id;
      });
      return readTemplate(database, made);
    },
    changeTemplate: async ({ params, body: asked, who }) => {
      await work(services, who, async (w) => {
        await w.rows('SELECT 1 FROM template WHERE id = :id FOR UPDATE', { id: bytesOf(params.id) });
        const record = await readTemplate(w, params.id);
        const change = { table: 'template', id: params.id, fields: templateFields, asked, record };
        const { isRetired, version: _, resolved: __, ...written } = await mergeChange(w, change);
        await assertReadable(w, written);
        await unlessTaken(written.name, () =>
          w.change(
            `UPDATE template SET name = :name, channel = :channel, subject = :subject, body = :body,
                    retired_at = ${isRetired ? 'COALESCE(retired_at, :now)' : 'NULL'}, version = version + 1
              WHERE id = :id`,
            { ...written, id: bytesOf(params.id), now: sqlInstant(w.now) },
          ),
        );
        w.say(`Template “${written.name}” changed`);
      });
      return readTemplate(database, params.id);
    },
    createSnippet: async ({ body, who }) => {
      const made = await work(services, who, async (w) => {
        const id = newId<SnippetId>();
        await unlessTaken(body.name, () =>
          w.change('INSERT INTO snippet (id, name, body) VALUES (:id, :name, :body)', {
            id: bytesOf(id),
            ...body,
          }),
        );
        return id;
      });
      return snippetNamed(made);
    },
    changeSnippet: async ({ params, body: asked, who }) => {
      await work(services, who, async (w) => {
        await w.rows('SELECT 1 FROM snippet WHERE id = :id FOR UPDATE', { id: bytesOf(params.id) });
        const record = await snippetNamed(params.id, w);
        const change = { table: 'snippet', id: params.id, fields: snippetFields, asked, record };
        const { name, body } = await mergeChange(w, change);
        await unlessTaken(name, () =>
          w.change('UPDATE snippet SET name = :name, body = :body, version = version + 1 WHERE id = :id', {
            id: bytesOf(params.id),
            name,
            body,
          }),
        );
        w.say(`Text “${name}” changed`);
      });
      return snippetNamed(params.id);
    },
    removeSnippet: async ({ params, who }) => {
      const { name } = await snippetNamed(params.id);
      const users = (await listTemplates(database)).filter(
        (template) => !template.isRetired && bringsIn(template.body, name),
      );
      if (users.length > 0)
        throw new Problem('in-use', {
          what: `The snippet “${name}”`,
          where: users.map((each) => each.name).join(', '),
        });
      await work(services, who, async (w) => {
        await w.change('DELETE FROM snippet WHERE id = :id', { id: bytesOf(params.id) });
      });
      return { ok: true };
    },
    changeMySignature: async ({ body, who }) => {
      await work(services, who, async (w) => {
        await w.change('UPDATE app_user SET signature = :signature WHERE id = :id', {
          id: bytesOf(who.id),
          signature: body.signature.trim(),
        });
      });
      return { ok: true };
    },
  };
}

const bringsIn = (body: string, name: string) =>
  new RegExp(`\\{%-?\\s*(include|render)\\s+['"]${name}['"]`).test(body);

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
    if (isDuplicateKey(error)) throw new Problem('already-exists', { what: `The name “${name}”` });
    throw error;
  }
}
