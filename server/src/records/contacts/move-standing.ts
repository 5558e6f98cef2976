import type { Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, newId, type IdBytes } from '../../platform/ids';
import { writeSystemEntry } from '../../activity/journal/write-entry';
import type { StandingMove } from '../../activity/journal/undo';
import type { SignedIn } from '../users/session';
import { readStandings } from './standings';

/**
 * Moves a contact to another standing, with its entry in the journal; null when they have it already, or when it was
 * removed meanwhile. Touch facts must be derived again afterwards: the check-in day hangs on the standing.
 */
export async function moveStanding(
  tx: Queryable,
  who: SignedIn,
  contactId: string,
  to: string,
  now: string,
): Promise<StandingMove | null> {
  const [was] = await tx.rows<{ standing_id: IdBytes; standing_set_at: string }>(
    'SELECT standing_id, standing_set_at FROM contact WHERE id = :id',
    { id: bytesOf(contactId) },
  );
  const from = was ? idOf<string>(was.standing_id) : null;
  const names = new Map((await readStandings(tx)).map((standing) => [standing.id as string, standing.name]));
  if (!was || from === null || from === to || !names.has(to)) return null;
  await tx.change(
    'UPDATE contact SET standing_id = :to, standing_set_at = :now, version = version + 1 WHERE id = :id',
    { to: bytesOf(to), now: sqlInstant(now), id: bytesOf(contactId) },
  );
  const body = `Standing: ${names.get(from)} → ${names.get(to)}`;
  const entryId = newId<string>();
  await writeSystemEntry(tx, { id: entryId, body, contactId, userId: who.id, now });
  return { from, to, setAt: was.standing_set_at, entryId };
}
