import { sayCount } from '@kettle/core/locale';
import type { GiveRecords, givenRecords } from '@kettle/contract';
import type * as z from 'zod';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import type { PersonWork } from '../../platform/work/work';
import { notify } from '../../records/notifications/index';
import { readPerson } from '../../records/users/index';
import { changeDeal, readDealRowsOf } from '../deals/index';
import { changeLead } from '../leads/index';

interface Given {
  readonly table: 'sales_lead' | 'deal' | 'task';
  readonly one: string;
  readonly many: string;
  readonly path: string;
  /** What can still be given: closed deals and finished tasks stay whose they were. */
  readonly isOpen: string;
}

const kinds: Readonly<Record<GiveRecords['kind'], Given>> = {
  lead: {
    table: 'sales_lead',
    one: 'lead',
    many: 'leads',
    path: '/deals/leads',
    isOpen: 'r.archived_at IS NULL',
  },
  deal: { table: 'deal', one: 'deal', many: 'deals', path: '/deals', isOpen: "r.status = 'open'" },
  task: { table: 'task', one: 'task', many: 'tasks', path: '/tasks', isOpen: "r.state = 'open'" },
};

/**
 * Gives records to one colleague in one change, which is undone as one. What is theirs already or closed stays as it is; each is changed as
 * if it had been changed by hand, so that its person and its planned steps go with it.
 */
export async function giveRecords(w: PersonWork, asked: GiveRecords): Promise<z.output<typeof givenRecords>> {
  const { table, one, many, path, isOpen } = kinds[asked.kind];
  const owner = asked.ownerId === null ? null : await readPerson(w, asked.ownerId);
  const rows = await w.rows<{ id: IdBytes; version: number }>(
    `SELECT r.id, r.version FROM ${table} r
      WHERE r.id IN (:ids) AND ${isOpen} AND NOT (r.owner_id <=> :owner) ORDER BY r.id FOR UPDATE`,
    { ids: asked.ids.map((id) => bytesOf(id)), owner: bytesOf(asked.ownerId) },
  );
  for (const { id, version } of rows) await give(w, asked, { id, version });
  const words = sayCount(rows.length, one, many);
  w.say(`${words} given to ${owner?.name ?? 'the pool'}`);
  // With a lead its person goes, of which the new owner is told.
  if (owner !== null && owner.id !== w.who.id && rows.length > 0 && asked.kind !== 'lead')
    await notify(w, [owner.id], `${w.who.name} gave you ${words}`, path);
  await w.derive();
  return { given: rows.length, left: asked.ids.length - rows.length };
}

async function give(
  w: PersonWork,
  asked: GiveRecords,
  { id, version }: { readonly id: IdBytes; readonly version: number },
): Promise<void> {
  if (asked.kind === 'lead') return changeLead(w, idOf(id), { version, ownerId: asked.ownerId });
  if (asked.kind === 'deal') {
    const [deal] = await readDealRowsOf(w, [id], w.now.slice(0, 10));
    const { name, stageId, amountMinor, expectedCloseOn } = deal!;
    return changeDeal(w, idOf(id), {
      ...{ version, name, stageId, amountMinor, expectedCloseOn },
      ...{ ownerId: asked.ownerId, tick: [] },
    });
  }
  await w.change('UPDATE task SET owner_id = :owner, version = version + 1 WHERE id = :id', {
    id,
    owner: bytesOf(asked.ownerId),
  });
}
