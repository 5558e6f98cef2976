import type { Role, UserId } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { idOf, idOrNull } from '../../platform/ids';
import type { SignedIn } from '../users/index';

export interface TeamMate {
  readonly id: UserId;
  readonly name: string;
  readonly role: Role;
  readonly managerId: UserId | null;
}

/**
 * The people of somebody's team who sell, by name, with themselves: of a manager those they lead, of a rep those of the same manager whose
 * records they may read, of an admin everybody. Without admins, who set things up, but for the one who asks.
 */
export async function readTeamOf(db: Queryable, who: SignedIn): Promise<TeamMate[]> {
  const rows = await db.rows<Row<'app_user', 'id' | 'name' | 'role' | 'manager_id'>>(
    'SELECT id, name, role, manager_id FROM app_user WHERE deactivated_at IS NULL ORDER BY name, id',
  );
  const people = rows.map((row): TeamMate => ({
    id: idOf(row.id),
    name: row.name,
    role: row.role,
    managerId: idOrNull(row.manager_id),
  }));
  const own = people.find(({ id }) => id === who.id);
  const { reads, changes } = who.reach;
  const isMate = ({ id, role, managerId }: TeamMate) => {
    if (id === who.id) return true;
    if (role === 'admin') return false;
    if (who.role !== 'rep') return changes === 'everybody' || changes.has(id);
    return (
      managerId === (own?.managerId ?? null) && role === 'rep' && (reads === 'everybody' || reads.has(id))
    );
  };
  return people.filter(isMate);
}
