import type { Role, UserId } from '@kettle/contract';
import { reachOf, type Reach } from '@kettle/core/rights';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { idOf, idOrNull } from '../../platform/ids';
import { settingOf } from '../settings/index';

interface Asking {
  readonly id: UserId;
  readonly role: Role;
  /** The stored text of the setting `rights`; null where nobody changed it. */
  readonly rights: string | null;
  /** Those who are away and whose Round they work meanwhile. */
  readonly standsInFor: readonly string[];
}

/** Whose records somebody may read and change, as the reading policy and the teams are now. Asks nothing where everything follows from the role. */
export async function readReach(db: Queryable, { rights, standsInFor, ...who }: Asking): Promise<Reach> {
  const { reading } = settingOf('rights', rights ?? undefined);
  const needsTeams = who.role === 'manager' || (who.role === 'rep' && reading === 'team');
  return reachOf(who, needsTeams ? await readPeople(db) : [], reading, standsInFor);
}

async function readPeople(db: Queryable) {
  const rows = await db.rows<Row<'app_user', 'id' | 'manager_id'>>(
    'SELECT id, manager_id FROM app_user ORDER BY id',
  );
  return rows.map((row) => ({ id: idOf<string>(row.id), managerId: idOrNull<string>(row.manager_id) }));
}
