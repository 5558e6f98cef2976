import type { Channel, ContactId } from '@kettle/contract';
import { nameKey } from '@kettle/core/duplicates';
import type { RecordDraft } from '@kettle/core/imports';
import { insertTask } from '../../../activity/tasks/index';
import type { Row } from '../../../platform/database/schema.generated';
import { bytesOf, idOf, idOrNull } from '../../../platform/ids';
import type { Reading } from '../file-kind';
import { findAbout } from './about';
import { numberOf, textOf, type Found, type RecordDef } from './record-kind';

/** Tasks with a person or a deal, told apart by what for, day and person. One that is here stays as it is. */
export const tasks: RecordDef = {
  shown: ['purpose', 'person', 'company', 'deal', 'dueOn', 'owner'],
  sameAs: (values) =>
    ['purpose', 'dueOn', 'email', 'person', 'company', 'deal']
      .map((key) => nameKey(textOf(values, key)))
      .join('|'),
  find: findTasks,
  make: async (w, values, { contactId, companyId, dealId }, { owners, today }) => {
    const dueOn = textOf(values, 'dueOn');
    await insertTask(w, {
      ...{
        purpose: textOf(values, 'purpose'),
        minutes: numberOf(values, 'minutes') ?? 6,
        promisedAt: null,
        run: null,
      },
      channel: (textOf(values, 'channel') || 'call') as Channel,
      // What was due already is due today.
      dueOn: dueOn < today ? today : dueOn,
      ownerId: owners.get(textOf(values, 'owner')) ?? w.who.id,
      madeBy: w.who.id,
      ...{ contactId: contactId ?? null, companyId: companyId ?? null, dealId: dealId ?? null },
    });
  },
};

type TaskRow = Row<'task', 'id' | 'purpose' | 'due_on' | 'contact_id' | 'owner_id'>;

async function findTasks(
  reading: Reading,
  drafts: readonly RecordDraft[],
): Promise<ReadonlyMap<number, Found>> {
  const about = await findAbout(reading, drafts);
  const ids = [...about.values()].flatMap(({ contactId }) => contactId ?? []);
  const rows =
    ids.length === 0
      ? []
      : await reading.db.rows<TaskRow>(
          "SELECT id, purpose, due_on, contact_id, owner_id FROM task WHERE contact_id IN (:ids) AND state = 'open' ORDER BY id",
          { ids: [...new Set(ids)].map((id) => bytesOf(id)) },
        );
  return new Map(
    drafts.map(({ line, values }) => {
      const found = about.get(line) ?? {};
      const dueOn = textOf(values, 'dueOn') < reading.today ? reading.today : textOf(values, 'dueOn');
      const row = rows.find(
        (each) =>
          idOrNull<ContactId>(each.contact_id) === found.contactId &&
          each.due_on === dueOn &&
          nameKey(each.purpose) === nameKey(textOf(values, 'purpose')),
      );
      return [
        line,
        row === undefined || found.problem !== undefined
          ? found
          : {
              ...found,
              record: {
                id: row.id,
                name: row.purpose,
                ownerId: idOf<string>(row.owner_id),
                ownerName: null,
                now: {},
              },
            },
      ] as const;
    }),
  );
}
