import type { ContactId, Stirring } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { Problem } from '../../platform/problem';
import { bytesOf, idOrNull } from '../../platform/ids';
import { keepPoint } from '../../records/contacts/index';
import { assertMayChange } from '../../records/rights/index';
import { answeredByText } from './gateway-events';
import { readStirring } from '../stirrings/index';
import type { PersonWork } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

export interface Filing {
  readonly version: number;
  readonly contactId: ContactId;
  /** Keeps the number with the person, for the next time. */
  readonly keepNumber: boolean;
}

interface StirringRow extends Row<'stirring', 'contact_id' | 'number' | 'text_id'> {
  body: string | null;
}

/**
 * Says whose a sign of life from an unknown number was: a text of theirs comes into their journal as if it had been known.
 * @throws Problem `not-found`, `stale`, `already-done`, `not-yours`
 */
export async function fileStirring(w: PersonWork, id: string, filing: Filing): Promise<Stirring> {
  const row = await lockUnfiled(w, id, filing.version);
  const contact = bytesOf(filing.contactId);
  const [person] = await w.rows<Row<'contact', 'id' | 'owner_id' | 'company_id'> & { display_name: string }>(
    'SELECT id, display_name, owner_id, company_id FROM contact WHERE id = :contact FOR UPDATE',
    {
      contact,
    },
  );
  if (!person) throw new Problem('not-found');
  await assertMayChange(w, w.who, idOrNull(person.owner_id));
  await w.change(
    'UPDATE stirring SET contact_id = :contact, user_id = :owner, version = version + 1 WHERE id = :id',
    { id: bytesOf(id), contact, owner: person.owner_id },
  );
  if (filing.keepNumber && row.number !== null) await keepPoint(w, filing.contactId, 'phone', row.number);
  if (row.text_id !== null) {
    await w.change(
      "UPDATE text_message SET contact_id = :contact, user_id = :owner, state = 'filed' WHERE id = :text",
      { text: row.text_id, contact, owner: person.owner_id },
    );
    await answeredByText(w, person, { id: `filed:${id}`, body: row.body ?? '' });
  }
  const { ownerId: _owner, ...now } = await readStirring(w, id);
  return now;
}

async function lockUnfiled(tx: Queryable, id: string, version: number): Promise<StirringRow> {
  const [row] = await tx.rows<StirringRow & Row<'stirring', 'version'>>(
    `SELECT s.contact_id, s.number, s.text_id, t.body, s.version
       FROM stirring s LEFT JOIN text_message t ON t.id = s.text_id WHERE s.id = :id FOR UPDATE`,
    { id: bytesOf(id) },
  );
  if (!row) throw new Problem('not-found');
  if (row.contact_id !== null) throw new Problem('already-done');
  if (row.version !== version) {
    const { ownerId: _owner, ...current } = await readStirring(tx, id);
    throw new Problem('stale', {}, { current });
  }
  return row;
}
