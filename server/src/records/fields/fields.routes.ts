import type { CustomField, CustomFieldId } from '@kettle/contract';
import { isDuplicateKey, type Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf, newId } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { readCustomFields } from './custom-fields';
import { readWordsInUse } from './words-in-use';
import { mergeChange } from '../../platform/work/merge-change';
import { work } from '../../platform/work/work';

type Names = 'wordsInUse' | 'listCustomFields' | 'createCustomField' | 'changeCustomField';

const fields = {
  name: { column: 'name' },
  choices: { column: 'choices', read: (text: string | null): unknown => JSON.parse(text ?? '[]') },
  isRetired: { column: 'retired_at', read: (text: string | null) => text !== null },
};

export function fieldsRoutes(services: Services): Pick<Handlers, Names> {
  const { database } = services;
  const readField = async (id: string, db: Queryable = database): Promise<CustomField> => {
    const field = (await readCustomFields(db, null, true)).find((each) => each.id === id);
    if (!field) throw new Problem('not-found');
    return field;
  };
  const unique = async <Result>(name: string, act: () => Promise<Result>): Promise<Result> => {
    try {
      return await act();
    } catch (error) {
      if (isDuplicateKey(error)) throw new Problem('already-exists', { what: name });
      throw error;
    }
  };
  return {
    wordsInUse: async ({ query, who }) => ({ words: await readWordsInUse(database, who, query.field) }),
    listCustomFields: async ({ query }) => ({
      fields: await readCustomFields(database, query.subject ?? null, query.retired === 'yes'),
    }),
    createCustomField: async ({ body, who }) => {
      const made = await unique(body.name, () =>
        work(services, who, async (w) => {
          const id = newId<CustomFieldId>();
          await w.change(
            `INSERT INTO custom_field (id, subject, name, type, choices, position)
             SELECT :id, :subject, :name, :type, :choices, COALESCE(MAX(position), 0) + 1
               FROM custom_field WHERE subject = :subject`,
            {
              id: bytesOf(id),
              subject: body.subject,
              name: body.name,
              type: body.type,
              choices: JSON.stringify(body.choices),
            },
          );
          w.say($localize`Field “${body.name}:name:” created`);
          return id;
        }),
      );
      return readField(made);
    },
    changeCustomField: async ({ params, body: asked, who }) => {
      const before = await readField(params.id);
      if (before.type === 'choice' && asked.choices.length === 0)
        throw new Problem(
          'invalid-request',
          {},
          {
            fields: [{ path: 'choices', message: $localize`a field of this type needs at least one choice` }],
          },
        );
      await unique(asked.name, () =>
        work(services, who, async (w) => {
          await w.rows('SELECT 1 FROM custom_field WHERE id = :id FOR UPDATE', { id: bytesOf(params.id) });
          const record = await readField(params.id, w);
          const body = await mergeChange(w, { table: 'custom_field', id: params.id, fields, asked, record });
          await w.change(
            `UPDATE custom_field SET name = :name, choices = :choices, version = version + 1,
                    retired_at = IF(:isRetired, COALESCE(retired_at, :now), NULL)
              WHERE id = :id`,
            {
              id: bytesOf(params.id),
              name: body.name,
              choices: JSON.stringify(body.choices),
              isRetired: body.isRetired,
              now: sqlInstant(w.now),
            },
          );
          w.say($localize`Field “${body.name}:name:” changed`);
        }),
      );
      return readField(params.id);
    },
  };
}
