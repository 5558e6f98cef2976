import { Problem } from '../../platform/problem';
import { bytesOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import type { SignedIn } from '../../records/users/index';
import { findSet, undoSet } from './undo-set';
import type { Row } from '../../platform/database/schema.generated';

/**
 * Undoes the log that wrote an entry, with all it did: the finished task, the cadence, the next step, a mail that still waits.
 * @throws Problem `not-found` for another person's log, `already-done`, `cannot-undo` when it was changed since
 */
export async function undoLog(services: Services, who: SignedIn, entryId: string): Promise<void> {
  const { database } = services;
  const [entry] = await database.rows<Row<'journal_entry', 'kind'>>(
    'SELECT kind FROM journal_entry WHERE id = :id',
    {
      id: bytesOf(entryId),
    },
  );
  // What the system noted of a change is undone by that change's own undo, which puts more back than a log changes.
  if (!entry || entry.kind === 'system') throw new Problem('not-found');
  const setId = await findSet(database, { table: 'journal_entry', id: entryId, op: 'insert' });
  if (setId === null) throw new Problem('not-found');
  await undoSet(services, who, setId);
}
