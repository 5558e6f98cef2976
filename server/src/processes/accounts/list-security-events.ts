import type { listSecurityEvents as asking, SecurityEvent } from '@kettle/contract';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, jsonOf } from '../../platform/database/values';
import { idOf } from '../../platform/ids';

const dataOf = z.record(z.string(), z.union([z.string(), z.number()]));

/** What happened to accounts and rights, newest first. Relies on security_event_at. */
export async function listSecurityEvents(
  db: Queryable,
  { kind, limit }: z.output<typeof asking>,
): Promise<{ events: SecurityEvent[]; kinds: string[] }> {
  const rows = await db.rows<
    Row<'security_event', 'id' | 'at' | 'kind' | 'address_hash' | 'data'> & {
      who: string | null;
      about: string | null;
    }
  >(
    `SELECT e.id, e.at, e.kind, u.name AS who, a.name AS about, e.address_hash, e.data
       FROM security_event e LEFT JOIN app_user u ON u.id = e.user_id LEFT JOIN app_user a ON a.id = e.about_id
      WHERE :kind IS NULL OR e.kind = :kind ORDER BY e.at DESC, e.id DESC LIMIT :limit`,
    { kind: kind ?? null, limit },
  );
  const kinds = await db.rows<Row<'security_event', 'kind'>>(
    'SELECT DISTINCT kind FROM security_event ORDER BY kind',
  );
  return {
    events: rows.map((row) => ({
      id: idOf(row.id),
      at: instantOf(row.at),
      kind: row.kind,
      who: row.who,
      about: row.about,
      address: row.address_hash === null ? null : row.address_hash.toString('hex').slice(0, 8),
      data: dataOf.parse(jsonOf(row.data)),
    })),
    kinds: kinds.map((row) => row.kind),
  };
}
