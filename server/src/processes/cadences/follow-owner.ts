import { bytesOf, idOf } from '../../platform/ids';
import type { Reaction } from '../../platform/work/work';
import { tellRuns } from './tell-runs';
import type { Row, Tables } from '../../platform/database/schema.generated';

/** Who has a person from now on has their cadences too, however the person came to them. */
export const handRunsOver: Reaction = async (w, written) => {
  const changed = written.ids('contact', 'id', ['owner_id']);
  if (changed.length === 0) return;
  const running = await w.rows<{ id: Tables['run']['contact_id'] }>(
    `SELECT DISTINCT contact_id AS id FROM run WHERE contact_id IN (:contacts) AND status IN ('running', 'paused') ORDER BY contact_id`,
    { contacts: changed.map((id) => bytesOf(id)) },
  );
  for (const contactId of running.map(({ id }) => idOf<string>(id))) {
    const [owner] = await w.rows<Row<'app_user', 'id' | 'name'>>(
      'SELECT u.id, u.name FROM contact c JOIN app_user u ON u.id = c.owner_id WHERE c.id = :contact',
      { contact: bytesOf(contactId) },
    );
    if (!owner) continue;
    const moved = await w.change(
      `UPDATE run SET owner_id = :owner, version = version + 1
        WHERE contact_id = :contact AND status IN ('running', 'paused') AND owner_id <> :owner`,
      { owner: owner.id, contact: bytesOf(contactId) },
    );
    if (moved === 0) continue;
    const at = w.now;
    await tellRuns(w, contactId, (stored) => ({
      id: `owner:${stored.id}:${stored.version}`,
      at,
      kind: 'owner-changed',
      ownerName: owner.name,
    }));
  }
};
