import type { Queryable } from '../../platform/database/database';
import type { Row, Tables } from '../../platform/database/schema.generated';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { PersonWork } from '../../platform/work/work';
import { mayChange } from './may-change';

interface Shared {
  readonly alsoContactIds: readonly string[];
  /** The deal it is about, whose team may have people of each other in an entry. */
  readonly dealId: string | null;
}

/**
 * Whether an entry may count for others' people too: for those one may change, and for whose owners the organisation's rule lets it.
 * @throws Problem `not-shared` naming the first who must be left out, and their owner; `not-found` for nobody's id
 */
export async function assertMayShare(w: PersonWork, { alsoContactIds, dealId }: Shared): Promise<void> {
  if (alsoContactIds.length === 0) return;
  const rows = await w.rows<
    Row<'contact', 'id' | 'display_name' | 'owner_id'> & { owner_name: Tables['app_user']['name'] | null }
  >(
    `SELECT c.id, c.display_name, c.owner_id, u.name AS owner_name
       FROM contact c LEFT JOIN app_user u ON u.id = c.owner_id WHERE c.id IN (:ids) ORDER BY c.sort_name, c.id`,
    { ids: alsoContactIds.map((id) => bytesOf(id)) },
  );
  if (rows.length < new Set(alsoContactIds).size) throw new Problem('not-found');
  const others = rows.filter((row) => !mayChange(w.who, idOrNull(row.owner_id)));
  if (others.length === 0) return;
  const { sharing } = (await w.settings()).rights;
  if (sharing === 'all') return;
  const team = sharing === 'deal-team' && dealId !== null ? await readTeam(w, dealId) : new Set<string>();
  const refused = others.find((row) => row.owner_id !== null && !team.has(idOf(row.owner_id)));
  if (refused === undefined) return;
  const owner = refused.owner_name ?? $localize`a colleague`;
  throw new Problem(
    'not-shared',
    { name: refused.display_name, owner },
    {
      fields: [
        {
          path: 'alsoContactIds',
          message: $localize`${refused.display_name}:displayname: belongs to ${owner}:owner:`,
        },
      ],
    },
  );
}

/** Whoever works on a deal: its owner and its team. */
async function readTeam(db: Queryable, dealId: string): Promise<Set<string>> {
  const rows = await db.rows<{ id: Tables['deal']['owner_id'] }>(
    `SELECT owner_id AS id FROM deal WHERE id = :id
     UNION SELECT user_id FROM deal_colleague WHERE deal_id = :id`,
    { id: bytesOf(dealId) },
  );
  return new Set(rows.map(({ id }) => idOf<string>(id)));
}
