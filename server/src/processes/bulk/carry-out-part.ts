import { sayCount } from '@kettle/core/locale';
import type { BulkAct } from '@kettle/contract';
import { bytesOf, idOf } from '../../platform/ids';
import type { JobKind } from '../../platform/jobs/worker';
import { attempt } from '../../platform/work/attempt';
import type { Row } from '../../platform/database/schema.generated';
import { actingAs, type PersonWork, type Work } from '../../platform/work/work';
import { readWritten, type WrittenRow } from '../../platform/work/written';
import { readContact } from '../../records/contacts/index';
import { notify, tellOfWhole } from '../../records/notifications/index';
import { readSignedIn } from '../../records/users/index';
import { mayChange } from '../../records/rights/index';
import { carryOut, stepFor } from './bulk-act';
import { lockStored, markItem, partName, payloadShape, readItems, settle } from './stored-bulk';

/** One part of a bulk change. A contact that cannot be changed is marked with the reason, the others are changed. */
export const bulkJob: JobKind = {
  words: $localize`one part of a change of many`,
  effect: 'database',
  lane: 'bulk',
  run: async (w, payload) => {
    const { bulkId, from, setId } = payloadShape.parse(payload);
    w.partOf(setId, partName(from));
    const { act, userId, state } = await lockStored(w, bulkId);
    // A part that is tried again after all of it was undone has nothing to do.
    if (state !== 'running') return;
    const own = actingAs(w, await readSignedIn(w, userId, w.now));
    for (const item of await readItems(w, bulkId, from, ['waiting']))
      await markItem(w, bulkId, item.contact_id, await changeOne(own, item.contact_id, act, bulkId));
    await settle(w, bulkId, ['waiting'], 'done');
    await tellOnceDone(w, bulkId, setId);
    w.note('bulk', bulkId);
  },
};

/** The last part tells the owners what all of them changed. */
async function tellOnceDone(w: Work<null>, bulkId: string, setId: string): Promise<void> {
  const { state, userId, words } = await lockStored(w, bulkId);
  if (state !== 'done') return;
  await w.derive();
  const rows: WrittenRow[] = [];
  const parts = await w.rows<Row<'change_set', 'id'>>(
    'SELECT id FROM change_set WHERE parent_id = :set ORDER BY at, id',
    {
      set: bytesOf(setId),
    },
  );
  for (const { id } of parts) rows.push(...(await readWritten(w, idOf(id))));
  await tellOfTasks(w, bulkId, userId);
  await tellOfWhole(w, await readSignedIn(w, userId, w.now), rows, words);
}

/** Whoever has tasks by it is told how many, as of any task that is given; its maker is not. */
async function tellOfTasks(w: Work<null>, bulkId: string, makerId: string): Promise<void> {
  const rows = await w.rows<Row<'task', 'owner_id'> & { count: string; purpose: string; name: string }>(
    `SELECT t.owner_id, COUNT(*) AS count, MIN(t.purpose) AS purpose, MIN(u.name) AS name FROM task t JOIN app_user u ON u.id = :maker
      WHERE t.bulk_id = :bulk AND t.owner_id <> :maker GROUP BY t.owner_id ORDER BY t.owner_id`,
    { bulk: bytesOf(bulkId), maker: bytesOf(makerId) },
  );
  for (const row of rows) {
    const tasks = sayCount(Number(row.count), $localize`task|tasks`);
    const words = $localize`${row.name}:name: gave you ${tasks}:tasks:: ${row.purpose}:purpose:`;
    await notify(w, 'given', [idOf<string>(row.owner_id)], words, '/tasks');
  }
}

async function changeOne(
  w: PersonWork,
  id: Buffer,
  act: BulkAct,
  bulkId: string,
): Promise<{ state: string; reason?: string }> {
  let done: { state: string; reason?: string } = { state: 'changed' };
  const refused = await attempt(w, async () => {
    const contact = await readContact(w, idOf(id));
    if (!mayChange(w.who, contact.ownerId))
      done = {
        state: 'failed',
        reason: $localize`belongs to ${contact.ownerName ?? $localize`a colleague`}:ownerName:`,
      };
    else if (stepFor(contact, act).isSame) done = { state: 'same' };
    else await carryOut(w, contact, act, bulkId);
  });
  return refused === null
    ? done
    : { state: 'failed', reason: refused.fields?.[0]?.message ?? refused.message };
}
