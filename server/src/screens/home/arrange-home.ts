import type { arrangeHome as arranging, Home, HomeCard, Role } from '@kettle/contract';
import { homeCards } from '@kettle/contract';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { jsonOf } from '../../platform/database/values';
import { bytesOf, newId } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { PersonWork } from '../../platform/work/work';
import type { SignedIn } from '../../records/users/index';
import { shippedHome } from './shipped';

type HomeRow = Row<'home', 'user_id' | 'cards' | 'version'>;

const cardsOf = (row: HomeRow): HomeCard[] => homeCards.parse(jsonOf(row.cards));

/** One's own arrangement, else that of one's role, else what ships. */
export async function readHome(db: Queryable, who: SignedIn): Promise<Home> {
  const rows = await db.rows<HomeRow>(
    'SELECT user_id, cards, version FROM home WHERE user_id = :me OR for_role = :role ORDER BY user_id IS NULL',
    { me: bytesOf(who.id), role: who.role },
  );
  const [first] = rows;
  if (first === undefined) return { cards: shippedHome(who.role), of: 'shipped', version: null };
  return first.user_id === null
    ? { cards: cardsOf(first), of: 'role', version: null }
    : { cards: cardsOf(first), of: 'own', version: first.version };
}

/** @throws Problem `stale` with the Home as it is when it was arranged meanwhile: in another window */
export async function arrangeHome(
  w: PersonWork,
  { cards, version }: z.output<typeof arranging>,
): Promise<void> {
  const [own] = await w.rows<HomeRow>(
    'SELECT user_id, cards, version FROM home WHERE user_id = :me FOR UPDATE',
    {
      me: bytesOf(w.who.id),
    },
  );
  if ((own?.version ?? null) !== version)
    throw new Problem('stale', {}, { current: await readHome(w, w.who) });
  assertNamed(cards);
  const row = { me: bytesOf(w.who.id), cards: JSON.stringify(cards) };
  if (own === undefined)
    await w.change('INSERT INTO home (id, user_id, cards) VALUES (:id, :me, :cards)', {
      ...row,
      id: bytesOf(newId<string>()),
    });
  else await w.change('UPDATE home SET cards = :cards, version = version + 1 WHERE user_id = :me', row);
  w.say($localize`Home arranged`);
}

export async function resetHome(w: PersonWork): Promise<void> {
  await w.change('DELETE FROM home WHERE user_id = :me', { me: bytesOf(w.who.id) });
  w.say($localize`Home as it is set for the role`);
}

/** For everybody of a role who has no own arrangement. */
export async function arrangeRoleHome(w: PersonWork, role: Role, cards: readonly HomeCard[]): Promise<void> {
  assertNamed(cards);
  if (await hasPrivateView(w, cards)) throw wrong($localize`shows a view that is not shared; share it first`);
  await w.change(
    `INSERT INTO home (id, for_role, cards) VALUES (:id, :role, :cards)
     ON DUPLICATE KEY UPDATE cards = VALUES(cards), version = version + 1`,
    { id: bytesOf(newId<string>()), role, cards: JSON.stringify(cards) },
  );
  w.say($localize`Home of a role arranged`);
}

const viewsOf = (cards: readonly HomeCard[]) =>
  cards.flatMap(({ viewId }) => (viewId === null ? [] : [viewId]));

async function hasPrivateView(w: PersonWork, cards: readonly HomeCard[]): Promise<boolean> {
  const ids = viewsOf(cards);
  if (ids.length === 0) return false;
  const rows = await w.rows('SELECT 1 FROM saved_view WHERE id IN (:ids) AND is_shared = 0 LIMIT 1', {
    ids: ids.map((id) => bytesOf(id)),
  });
  return rows.length > 0;
}

const wrong = (message: string) =>
  new Problem('invalid-request', {}, { fields: [{ path: 'cards', message }] });

/** A view that is gone meanwhile stays: its card says so. @throws Problem `invalid-request` */
function assertNamed(cards: readonly HomeCard[]): void {
  if (cards.some(({ kind, viewId }) => (kind === 'view') !== (viewId !== null)))
    throw wrong($localize`has a card of a view without its view; choose one`);
}
