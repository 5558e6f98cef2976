import { writeSystemEntry } from '../entries/index';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import type { PersonWork } from '../../platform/work/work';
import { readStandings } from '../settings/index';
import type { Row } from '../../platform/database/schema.generated';

/** Moves a contact to another standing, with its entry in the journal; nothing when they have it already, or are gone. */
export async function moveStanding(w: PersonWork, contactId: string, to: string): Promise<void> {
  const [was] = await w.rows<Row<'contact', 'standing_id'>>(
    'SELECT standing_id FROM contact WHERE id = :id',
    {
      id: bytesOf(contactId),
    },
  );
  const from = was ? idOf<string>(was.standing_id) : null;
  const names = new Map((await readStandings(w)).map((standing) => [standing.id as string, standing.name]));
  if (from === null || from === to || !names.has(to)) return;
  await w.change(
    'UPDATE contact SET standing_id = :to, standing_set_at = :now, version = version + 1 WHERE id = :id',
    { to: bytesOf(to), now: sqlInstant(w.now), id: bytesOf(contactId) },
  );
  const body = $localize`Standing: ${names.get(from)}:from: → ${names.get(to)}:to:`;
  await writeSystemEntry(w, { body, contactId, userId: w.who.id });
}
