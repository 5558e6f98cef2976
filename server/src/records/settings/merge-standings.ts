import { isDeepStrictEqual } from 'node:util';
import { crc32 } from 'node:zlib';
import type { SaveStandings, Standing } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { mergeFields } from '../../platform/work/merge-change';
import { fieldsOfList } from '../../platform/work/merge-list';
import { rowKeyOf } from '../../platform/work/written';

type Sent = SaveStandings['standings'][number];
type Fields = Record<string, unknown>;

/**
 * The standings as somebody means them, also when others changed them since they were read: their order, which is given to new contacts
 * (`usual`), whether each is there and each of its fields are fields of their own. @throws Problem `stale`
 */
export async function mergeStandings(
  db: Queryable,
  asked: SaveStandings,
  now: readonly Standing[],
): Promise<SaveStandings> {
  const sides = { asked: asked.standings, current: now, seen: asked.seen };
  const list = fieldsOfList<Sent>({ path: 'standings', fields: ['name', 'group', 'checkInDays'], ...sides });
  const own: Fields = { usual: usualOf(asked.standings), ...list.asked };
  const current: Fields = { usual: usualOf(now), ...list.current };
  const before: Fields = { usual: usualOf(asked.seen), ...list.seen };
  const changers = await readChangers(
    db,
    [...now, ...asked.seen].map(({ id }) => id),
  );
  const merged = mergeFields<Fields>({
    asked: asked.resolved === undefined ? own : { ...own, resolved: asked.resolved },
    current,
    // The list has no version of its own: what it holds is its version.
    record: { version: crc32(JSON.stringify(now)), standings: now } as { version: number },
    names: Object.keys(own).filter((path) => path in current),
    isKnown: true,
    beforeOf: (path) =>
      isDeepStrictEqual(before[path], current[path])
        ? null
        : {
            value: before[path],
            by: changers.get(path.split('.')[1] ?? '') ?? changers.get('') ?? 'somebody',
          },
  });
  const standings = list.listOf(merged);
  // Whichever was to be given to new contacts may be deleted by the other side: then the first is.
  const usual = Math.max(
    0,
    standings.findIndex((each) => usualKey(each) === merged.usual),
  );
  return { ...asked, standings: standings.map((each, at) => ({ ...each, isDefault: at === usual })) };
}

/** A new one has no id to be known by. */
const usualKey = ({ id, name }: Sent) => id ?? $localize`new ${name}:name:`;

function usualOf(standings: readonly Sent[]): string {
  const found = standings.find(({ isDefault }) => isDefault);
  return found === undefined ? '' : usualKey(found);
}

/** Who changed each of these standings last, and under '' who changed any. Relies on change_row_of. */
async function readChangers(db: Queryable, ids: readonly string[]): Promise<ReadonlyMap<string, string>> {
  const idOfKey = new Map(ids.map((id) => [rowKeyOf(id), id]));
  const rows = await db.rows<Row<'change_row', 'row_key'> & { name: string | null }>(
    `SELECT r.row_key, u.name
       FROM change_row r JOIN change_set s ON s.id = r.set_id LEFT JOIN app_user u ON u.id = s.user_id
      WHERE r.table_name = 'standing' AND r.row_key IN (:keys) ORDER BY s.at DESC, s.id DESC LIMIT 2000`,
    { keys: [...idOfKey.keys()] },
  );
  const changers = new Map<string, string>();
  for (const { row_key, name } of [...rows].reverse()) {
    changers.set(idOfKey.get(row_key) ?? '', name ?? $localize`the system`);
    changers.set('', name ?? $localize`the system`);
  }
  return changers;
}
