import type { Removable } from '@kettle/contract';
import { bytesOf, idOrNull, type IdBytes } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { PersonWork } from '../../platform/work/work';
import { assertMayChange } from '../../records/rights/index';

export const tableOf: Readonly<Record<Removable, string>> = {
  contact: 'contact',
  company: 'company',
  deal: 'deal',
  lead: 'sales_lead',
  agreement: 'agreement',
};

const nameOf: Readonly<Record<Removable, string>> = {
  contact: 'display_name',
  company: 'name',
  deal: 'name',
  lead: 'subject',
  agreement: 'name',
};

/** A record as it was seen by whoever wants it out of the way. */
export interface SeenRecord {
  readonly kind: Removable;
  readonly id: string;
  readonly version: number;
}

/** Locks a record that is about to be deleted or archived. @returns its name @throws Problem `not-found`, `not-yours`, `stale` */
export async function lockRecord(w: PersonWork, { kind, id, version }: SeenRecord): Promise<string> {
  const [row] = await w.rows<{ name: string; owner_id: IdBytes | null; version: number }>(
    `SELECT ${nameOf[kind]} AS name, owner_id, version FROM ${tableOf[kind]} WHERE id = :id FOR UPDATE`,
    { id: bytesOf(id) },
  );
  if (!row) throw new Problem('not-found');
  await assertMayChange(w, w.who, idOrNull(row.owner_id));
  if (row.version !== version) throw new Problem('stale');
  return row.name;
}
