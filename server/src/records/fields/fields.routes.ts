import type { CustomField, CustomFieldId } from '@kettle/contract';
import { isDuplicateKey } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf, newId } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { readCustomFields } from './custom-fields';
import { work } from '../../platform/work/work';

type Names = 'listCustomFields' | 'createCustomField' | 'changeCustomField';

export function fieldsRoutes(services: Services): Pick<Handlers, Names> {
  const { database } = services;
  const readField = async (id: string): Promise<CustomField> => {
    const field = (await readCustomFields(database, null, true)).find((each) => each.id === id);
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
          w.say(`Field “${body.name}” created`);
          return id;
        }),
      );
      return readField(made);
    },
    changeCustomField: async ({ params, body, who }) => {
      const before = await readField(params.id);
      if (before.type === 'choice' && body.choices.length === 0)
        throw new Problem(
          'invalid-request',
          {},
          { fields: [{ path: 'choices', message: 'a field of this type needs at least one choice' }] },
        );
      await unique(body.name, () =>
        work(services, who, async (w) => {
          const changed = await w.change(
            `UPDATE custom_field SET name = :name, choices = :choices, version = version + 1,
                    retired_at = IF(:isRetired, COALESCE(retired_at, :now), NULL)
              WHERE id = :id AND version = :version`,
            {
              id: bytesOf(params.id),
              version: body.version,
              name: body.name,
              choices: JSON.stringify(body.choices),
              isRetired: body.isRetired,
              now: sqlInstant(w.now),
            },
          );
          if (changed === 0) throw new Problem('stale', {}, { current: before });
        }),
      );
      return readField(params.id);
    },
  };
}
