import type { startBulk } from '@kettle/contract';
import type * as z from 'zod';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf } from '../../platform/ids';
import { retryFailed } from '../../platform/jobs/job-table';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { work } from '../../platform/work/work';
import type { SignedIn } from '../../records/users/index';
import { speechOf } from './bulk-act';
import { selectedIds } from './plan-bulk';
import { askForParts, bulkKind, bulkUndoKind, lockStored, partKeys } from './stored-bulk';

/** Writes down whom it is about and asks for the work, in one transaction; the same id sent again changes nothing. */
export async function beginBulk(
  services: Services,
  who: SignedIn,
  body: z.output<typeof startBulk>,
): Promise<void> {
  const { database } = services;
  const ids = await selectedIds(services, who, body.selection);
  const words = (await speechOf(database)).words(body.act, ids.length);
  await work(services, who, async (w) => {
    const isNew = await w.change(
      'INSERT IGNORE INTO bulk (id, user_id, words, act, set_id, created_at) VALUES (:id, :user, :words, :act, :set, :now)',
      {
        id: bytesOf(body.id),
        user: bytesOf(who.id),
        words: words.slice(0, 200),
        act: JSON.stringify(body.act),
        set: bytesOf(w.id),
        now: sqlInstant(w.now),
      },
    );
    if (isNew === 0) return;
    for (let from = 0; from < ids.length; from += 1000)
      await w.change('INSERT INTO bulk_item (bulk_id, contact_id, position) VALUES :rows', {
        rows: ids.slice(from, from + 1000).map((id, index) => [bytesOf(body.id), id, from + index]),
      });
    await askForParts(w, { kind: bulkKind, bulkId: body.id, setId: w.id, count: ids.length });
    w.say(words);
  });
}

/** Tries the parts again that failed for good, of the change or of its undo. @throws Problem `not-found` when none failed */
export async function retryBulk(services: Services, who: SignedIn, bulkId: string): Promise<void> {
  await work(services, who, async (w) => {
    const { userId, state } = await lockStored(w, bulkId);
    if (userId !== who.id) throw new Problem('not-found');
    const kind = state === 'undoing' ? bulkUndoKind : bulkKind;
    const tried = state === 'undone' ? 0 : await retryFailed(w, kind, partKeys(kind, bulkId));
    if (tried === 0) throw new Problem('not-found');
    w.note('bulk', bulkId);
  });
}
