import * as z from 'zod';
import { bytesOf } from '../../platform/ids';
import type { JobKind } from '../../platform/jobs/worker';

export const purgeKind = 'purge-person';

const ofPurge = z.object({
  setId: z.uuid(),
  /** The person, and whoever was merged into them. */
  contactIds: z.array(z.uuid()).min(1),
});

/** What stays as a business record, with its past. */
const kept = "('deal', 'agreement')";

/**
 * Takes an erased person out of what is kept for undoing and of what tells of changes: every row that the erasing deleted or emptied, in
 * whatever change it stands, and every row that named the person. Changes of others stay, and can be undone without that person.
 */
export const purgeJob: JobKind = {
  words: $localize`purging what is left of an erased person`,
  effect: 'database',
  lane: 'bulk',
  isBulk: true,
  run: async (w, payload) => {
    const { setId, contactIds } = ofPurge.parse(payload);
    const set = bytesOf(setId);
    const ids = contactIds.map((id) => bytesOf(id));
    const hex = contactIds.map((id) => id.replaceAll('-', '').toUpperCase()).join('|');
    const named = `table_name NOT IN ${kept} AND (row_key RLIKE :hex OR refs RLIKE :hex)`;
    // Names of changes may hold the person's; so may what a request was answered with.
    await w.change(
      `UPDATE change_set SET words = 'A change of an erased person', result = NULL WHERE id <> :set AND id IN (
          SELECT r.set_id FROM change_row r JOIN change_row mine USING (table_name, row_key) WHERE mine.set_id = :set
          UNION SELECT set_id FROM change_row WHERE ${named})`,
      { set, hex },
    );
    await w.change(
      `DELETE e FROM event e JOIN change_row mine
          ON mine.set_id = :set AND e.record_id = UNHEX(JSON_VALUE(mine.row_key, '$.id'))
        WHERE mine.table_name NOT IN ${kept}`,
      { set },
    );
    await w.change('DELETE FROM event WHERE set_id = :set OR record_id IN (:ids)', { set, ids });
    await w.change(
      `DELETE f FROM rule_firing f JOIN change_row mine
          ON mine.set_id = :set AND f.record_id = UNHEX(JSON_VALUE(mine.row_key, '$.id'))
        WHERE mine.table_name NOT IN ${kept}`,
      { set },
    );
    await w.change('DELETE FROM rule_firing WHERE record_id IN (:ids)', { ids });
    await w.change('DELETE FROM bulk_item WHERE contact_id IN (:ids)', { ids });
    await w.change(
      `DELETE i FROM import_row i JOIN change_row mine ON mine.set_id = :set AND mine.table_name = 'contact'
        WHERE i.draft LIKE CONCAT('%"', JSON_VALUE(mine.was, '$.email'), '"%')`,
      { set },
    );
    await w.change(
      `DELETE i FROM import_row i JOIN change_row mine
          ON mine.set_id = :set AND i.record_id = UNHEX(JSON_VALUE(mine.row_key, '$.id'))
        WHERE mine.table_name NOT IN ${kept}`,
      { set },
    );
    await w.change(
      `DELETE r FROM change_row r
         JOIN (SELECT DISTINCT table_name, row_key FROM change_row WHERE set_id = :set AND table_name NOT IN ${kept}) AS mine
        USING (table_name, row_key)`,
      { set },
    );
    await w.change(`DELETE FROM change_row WHERE ${named}`, { hex });
    // The erasing itself is on record in the log of security, and cannot be undone.
    await w.change('DELETE FROM change_row WHERE set_id = :set', { set });
    await w.change('DELETE FROM change_set WHERE id = :set', { set });
  },
};
