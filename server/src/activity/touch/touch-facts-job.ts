import { bytesOf, idOf } from '../../platform/ids';
import type { JobKind } from '../../platform/jobs/worker';
import { enqueueTouchFacts, touchFactsPart } from '../../records/settings/index';
import { refreshTouchFacts } from './touch-facts';
import type { Row } from '../../platform/database/schema.generated';

const contactsInPart = 200;

/** One part in the order of the ids, and the job for the next part in the same transaction. */
export const touchFactsJob: JobKind = {
  words: $localize`counting who has gone quiet`,
  effect: 'database',
  lane: 'bulk',
  run: async (w, payload) => {
    const { standingId, after, round } = touchFactsPart.parse(payload);
    const rows = await w.rows<Row<'contact', 'id'>>(
      `SELECT id FROM contact WHERE standing_id = :standing ${after === null ? '' : 'AND id > :after'}
        ORDER BY id LIMIT ${contactsInPart}`,
      { standing: bytesOf(standingId), ...(after === null ? {} : { after: bytesOf(after) }) },
    );
    await refreshTouchFacts(
      w,
      rows.map((row) => idOf<string>(row.id)),
    );
    const last = rows.at(-1);
    if (last && rows.length === contactsInPart)
      await enqueueTouchFacts(w, { standingId, after: idOf(last.id), round });
    else w.note('contact', standingId);
  },
};
