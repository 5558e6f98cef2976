import type { CustomField, CustomFieldId } from '@kettle/contract';
import { isDuplicateKey } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/http/problem';
import { bytesOf, newId } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { noteChange } from '../../platform/change-feed/feed';
import { readCustomFields } from './custom-fields';

type Names = 'listCustomFields' | 'createCustomField' | 'changeCustomField';

export function fieldsRoutes({ database, clock, feed }: Services): Pick<Handlers, Names> {
  const readField = async (id: string): Promise<CustomField> => {
    const field = (await readCustomFields(database, null, true)).find((each) => each.id === id);
    if (!field) throw new Problem('not-found');
    return field;
  };
  const unique = async (name: string, work: () => Promise<void>) => {
    try {
      await work();
    } catch (error) {
      if (isDuplicateKey(error)) throw new Problem('already-exists', { what: name });
      throw error;
    }
    feed.poke();
  };
  return {
    listCustomFields: async ({ query }) => ({
      fields: await readCustomFields(database, query.subject ?? null, query.retired === 'yes'),
    }),
    createCustomField: async ({ body, who }) => {
      const id = newId<CustomFieldId>();
      await unique(body.name, () =>
        database.transaction(async (tx) => {
          await tx.change(
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
          await noteChange(tx, 'setting', id, who.id);
        }),
      );
      return readField(id);
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
        database.transaction(async (tx) => {
          const changed = await tx.change(
            `UPDATE custom_field SET name = :name, choices = :choices, version = version + 1,
                    retired_at = IF(:isRetired, COALESCE(retired_at, :now), NULL)
              WHERE id = :id AND version = :version`,
            {
              id: bytesOf(params.id),
              version: body.version,
              name: body.name,
              choices: JSON.stringify(body.choices),
              isRetired: body.isRetired,
              now: sqlInstant(clock.now()),
            },
          );
          if (changed === 0) throw new Problem('stale', {}, { current: before });
          await noteChange(tx, 'setting', params.id, who.id);
        }),
      );
      return readField(params.id);
    },
  };
}
