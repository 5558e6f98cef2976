import type { ContactId, SaveJot, savedJot, TaskId } from '@kettle/contract';
import type * as z from 'zod';
import { addNote } from '../../activity/journal/index';
import { setPlace } from '../../activity/calendar/index';
import { planTask } from '../../activity/tasks/index';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf, idOf } from '../../platform/ids';
import type { PersonWork } from '../../platform/work/work';
import { createLead } from '../../processes/leads/index';
import { logInside } from '../../processes/logging/index';
import { readContact } from '../../records/contacts/index';

/**
 * Writes what a line was shown to mean: an act, a task, a note or a lead with all that belongs to it, in one change that is undone as one.
 * @throws Problem what each of them refuses
 */
export async function saveJot(w: PersonWork, asked: SaveJot): Promise<z.output<typeof savedJot>> {
  if (asked.act === 'lead') {
    const leadId = await createLead(w, asked.lead);
    const [lead] = await w.rows<Row<'sales_lead', 'contact_id'>>(
      'SELECT contact_id FROM sales_lead WHERE id = :id',
      { id: bytesOf(leadId) },
    );
    const contactId = idOf<ContactId>(lead!.contact_id);
    if (asked.task !== null) await plan(w, asked.task, { contactId, dealId: null });
    return { contactId, leadId, name: (await readContact(w, contactId)).name };
  }
  const { contactId, dealId, id } = asked;
  if (asked.act === 'log') {
    const { outcomeId, at, minutes, body, next, alsoContactIds, task } = asked;
    const taskId: TaskId | null = null;
    await logInside(w, {
      id,
      contactId,
      dealId,
      taskId,
      outcomeId,
      at,
      minutes,
      body,
      done: [],
      alsoContactIds,
      next,
    });
    if (task !== null) await plan(w, task, { contactId, dealId });
  } else {
    if (asked.act === 'task') await plan(w, asked.task, { contactId, dealId });
    const also = asked.act === 'note' ? asked.alsoContactIds : [];
    if (asked.body.trim() !== '')
      await addNote(w, {
        id,
        contactId,
        dealId,
        companyId: null,
        alsoContactIds: also,
        at: null,
        body: asked.body,
        isRich: false,
      });
  }
  return { contactId, leadId: null, name: (await readContact(w, contactId)).name };
}

async function plan(
  w: PersonWork,
  { place, ...task }: NonNullable<Extract<SaveJot, { act: 'lead' }>['task']>,
  about: { readonly contactId: ContactId; readonly dealId: Extract<SaveJot, { act: 'task' }>['dealId'] },
): Promise<void> {
  const { id } = await planTask(w, { ...task, ...about, repeats: null, remindMinutes: null });
  if (place === null) return;
  await setPlace(w, id, place);
}
