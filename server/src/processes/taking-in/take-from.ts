import type { Contact, MailId, takeFromMail } from '@kettle/contract';
import type * as z from 'zod';
import { Problem } from '../../platform/problem';
import type { PersonWork } from '../../platform/work/work';
import { keepPoint, readContact, writeCell } from '../../records/contacts/index';
import { assertMayChange } from '../../records/rights/index';
import { readMailRow } from '../mail/index';

/**
 * Takes over into its person's record what a mail says of them: one change, undone as one.
 * @throws Problem `not-found` also for a mail with nobody, `stale`, `not-yours`
 */
export async function takeFrom(
  w: PersonWork,
  id: MailId,
  { contactVersion, take }: z.output<typeof takeFromMail>,
): Promise<Contact> {
  const { contactId } = await readMailRow(w, w.who, id);
  if (contactId === null) throw new Problem('not-found');
  const contact = await readContact(w, contactId);
  await assertMayChange(w, w.who, contact.ownerId);
  if (contact.version !== contactVersion) throw new Problem('stale', {}, { current: contact });
  for (const { field, said, label } of take) {
    if (field === 'phone') await keepPoint(w, contactId, 'phone', said, label);
    else await writeCell(w, await readContact(w, contactId), { field, value: said });
  }
  w.say($localize`${contact.name}:name:: taken over from a mail`);
  return readContact(w, contactId);
}
