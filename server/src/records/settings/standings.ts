import type { SaveStandings, Standing, StandingId } from '@kettle/contract';
import { isDuplicateKey, type Queryable } from '../../platform/database/database';
import { sqlInstant, wholeNumber } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, newId } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { mergeStandings } from './merge-standings';
import { writeSystemEntries } from '../entries/index';
import type { SignedIn } from '../users/index';
import { type PersonWork, work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';
import { takeTurn } from '../../platform/work/take-turn';

export type StandingRow = Row<
  'standing',
  'id' | 'name' | 'standing_group' | 'check_in_days' | 'position' | 'is_default'
>;

export const standingColumns = 's.id, s.name, s.standing_group, s.check_in_days, s.position, s.is_default';

export function standingOf(row: StandingRow): Standing {
  return {
    id: idOf(row.id),
    name: row.name,
    group: row.standing_group,
    checkInDays: row.check_in_days,
    position: row.position,
    isDefault: row.is_default === 1,
  };
}

export async function readStandings(db: Queryable): Promise<Standing[]> {
  const rows = await db.rows<StandingRow>(
    `SELECT ${standingColumns} FROM standing s ORDER BY s.position, s.id`,
  );
  return rows.map(standingOf);
}

export async function readDefaultStanding(db: Queryable): Promise<Standing> {
  const [row] = await db.rows<StandingRow>(
    `SELECT ${standingColumns} FROM standing s ORDER BY s.is_default DESC, s.position, s.id LIMIT 1`,
  );
  if (!row) throw new Error('the installation has no standings');
  return standingOf(row);
}

/**
 * Writes the standings in their order. One that goes hands its contacts to its home, with an entry in each journal; a
 * changed interval or group has the check-ins counted again in the background.
 * @throws Problem `needs-a-home`, `already-exists` for two of one name, `stale` where others changed the same
 */
export async function saveStandings(services: Services, who: SignedIn, asked: SaveStandings): Promise<void> {
  await work(services, who, async (w) => {
    await takeTurn(w, 'standings');
    const before = await readStandings(w);
    const body = await mergeStandings(w, asked, before);
    const kept = new Set(body.standings.map((each) => each.id as string | null));
    for (const gone of before.filter((each) => !kept.has(each.id)))
      await removeStanding(w, gone, body, before);
    // Names are freed first, so that two standings can swap theirs.
    await w.change("UPDATE standing SET name = CONCAT('~', HEX(id))");
    for (const [position, each] of body.standings.entries()) await writeStanding(w, each, position);
  });
}

async function writeStanding(
  tx: Queryable,
  each: SaveStandings['standings'][number],
  position: number,
): Promise<void> {
  try {
    await tx.change(
      `INSERT INTO standing (id, name, standing_group, check_in_days, position, is_default)
       VALUES (:id, :name, :group, :days, :position, :isDefault)
       ON DUPLICATE KEY UPDATE name = :name, standing_group = :group, check_in_days = :days, position = :position,
         is_default = :isDefault, version = version + 1`,
      {
        id: bytesOf(each.id ?? newId<StandingId>()),
        name: each.name,
        group: each.group,
        days: each.checkInDays,
        position,
        isDefault: each.isDefault,
      },
    );
  } catch (error) {
    if (isDuplicateKey(error)) throw new Problem('already-exists', { what: each.name });
    throw error;
  }
  const [own] = await tx.rows<{ count: string }>(
    'SELECT COUNT(*) AS count FROM standing WHERE name = :name',
    {
      name: each.name,
    },
  );
  if (wholeNumber(own?.count ?? 0) !== 1) throw new Problem('already-exists', { what: each.name });
}

/** Deletes a standing; its contacts move to its home. */
async function removeStanding(
  w: PersonWork,
  gone: Standing,
  body: SaveStandings,
  before: readonly Standing[],
): Promise<void> {
  const ids = await w.rows<Row<'contact', 'id'>>(
    'SELECT id FROM contact WHERE standing_id = :id FOR UPDATE',
    {
      id: bytesOf(gone.id),
    },
  );
  const home = body.homes.find((each) => each.from === gone.id)?.to;
  const isKept = body.standings.some((each) => each.id === home);
  if (ids.length > 0 && (!home || !isKept))
    throw new Problem('needs-a-home', { count: ids.length, name: gone.name });
  if (ids.length > 0 && home) {
    const name = before.find((each) => each.id === home)?.name ?? '';
    await w.change(
      'UPDATE contact SET standing_id = :home, standing_set_at = :now, version = version + 1 WHERE standing_id = :gone',
      { home: bytesOf(home), gone: bytesOf(gone.id), now: sqlInstant(w.now) },
    );
    for (let from = 0; from < ids.length; from += 1000)
      await writeSystemEntries(
        w,
        ids.slice(from, from + 1000).map((row) => ({
          body: $localize`Standing: ${gone.name}:name: → ${name}:name2:`,
          contactId: idOf<string>(row.id),
          userId: w.who.id,
        })),
      );
  }
  await w.change('DELETE FROM standing WHERE id = :id', { id: bytesOf(gone.id) });
}
