import { saidNow } from '../../platform/language/language';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { assertMayRelease } from '../../records/wordings/index';
import { factCatalogue } from './facts';
import { changeSnippet, changeTemplate, createSnippet, createTemplate } from './save-text';
import { fillFor, listSnippets, listTemplates, readSnippet, readTemplate } from './template-rows';
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

export function templatesRoutes(services: Services): Pick<Handlers, Names> {
  const { database } = services;

  return {
    listTemplates: async ({ who }) => {
      const [me] = await database.rows<Row<'app_user', 'signature'>>(
        'SELECT signature FROM app_user WHERE id = :id',
        { id: bytesOf(who.id) },
      );
      return {
        templates: await listTemplates(database),
        snippets: await listSnippets(database),
        facts: factCatalogue.map((fact) => ({ ...fact, words: saidNow(fact.words) })),
        signature: me?.signature ?? '',
      };
    },
    fillText: ({ body, who }) => fillFor(database, services, body, { ...body, sender: who }),
    createTemplate: async ({ body, who }) =>
      readTemplate(database, await work(services, who, (w) => createTemplate(w, body))),
    changeTemplate: async ({ params, body, who }) => {
      await work(services, who, (w) => changeTemplate(w, params.id, body));
      return readTemplate(database, params.id);
    },
    createSnippet: async ({ body, who }) =>
      readSnippet(database, await work(services, who, (w) => createSnippet(w, body))),
    changeSnippet: async ({ params, body, who }) => {
      await work(services, who, (w) => changeSnippet(w, params.id, body));
      return readSnippet(database, params.id);
    },
    removeSnippet: async ({ params, who }) => {
      await assertMayRelease(services, who);
      const { name } = await readSnippet(database, params.id);
      const users = (await listTemplates(database)).filter(
        (template) => !template.isRetired && bringsIn(template.body, name),
      );
      if (users.length > 0)
        throw new Problem('in-use', {
          what: $localize`The snippet “${name}:name:”`,
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
