import type { ContactId, DealId, LeadId, MailId, TakeMailIn, takenIn } from '@kettle/contract';
import type * as z from 'zod';
import { planTask } from '../../activity/tasks/index';
import { bytesOf, idOf } from '../../platform/ids';
import type { PersonWork } from '../../platform/work/work';
import { addContact, readContact } from '../../records/contacts/index';
import { createDeal } from '../deals/index';
import { addLead } from '../leads/index';
import { moveOne } from '../mail/index';

type Taken = z.output<typeof takenIn>;

/**
 * Makes somebody new of a mail that is not filed, alone, with a lead, or with their firm and a deal; files the mail there and plans what
 * comes next. All of it is one change, undone as one.
 * @throws Problem `not-found`, `stale`, `not-so-now`, `invalid-request` at the field that is refused
 */
export async function takeIn(w: PersonWork, mailId: MailId, body: TakeMailIn): Promise<Taken> {
  const made = await makeOf(w, body);
  await moveOne(w, { id: mailId, version: body.version }, 'filed', {
    contactId: made.contactId,
    dealId: made.dealId,
    keepAddress: false,
  });
  if (body.task !== null)
    await planTask(w, {
      ...body.task,
      contactId: made.contactId,
      dealId: made.dealId,
      promisedMinute: null,
      repeats: null,
      remindMinutes: null,
    });
  w.say($localize`${(await readContact(w, made.contactId)).name}:name: taken in from a mail`);
  return made;
}

async function makeOf(w: PersonWork, body: TakeMailIn): Promise<Taken> {
  if (body.as === 'lead') {
    const { person, subject, place } = body;
    const lead = {
      subject,
      companyName: person.companyName,
      postcode: place.postcode,
      source: $localize`e-mail`,
    };
    const leadId: LeadId = await addLead(w, { person }, { ...lead, ownerId: w.who.id });
    const [row] = await w.rows<{ contact_id: Buffer }>('SELECT contact_id FROM sales_lead WHERE id = :id', {
      id: bytesOf(leadId),
    });
    return { contactId: idOf<ContactId>(row!.contact_id), leadId, dealId: null };
  }
  const contactId = await addContact(w, body.person);
  await fillPlace(w, contactId, body.place);
  const dealId: DealId | null =
    body.as === 'deal'
      ? await createDeal(w, {
          ...body.deal,
          contactId,
          next: { kind: 'none', reason: $localize`planned with the mail` },
        })
      : null;
  return { contactId, leadId: null, dealId };
}

/** What their firm does not say yet of where it is; what it says stays. */
async function fillPlace(w: PersonWork, contactId: ContactId, place: TakeMailIn['place']): Promise<void> {
  const { companyId } = await readContact(w, contactId);
  if (companyId === null || Object.values(place).every((value) => value === null)) return;
  await w.change(
    `UPDATE company SET street = COALESCE(street, :street), postcode = COALESCE(postcode, :postcode),
            city = COALESCE(city, :city), website = COALESCE(website, :website), version = version + 1
      WHERE id = :id`,
    { ...place, id: bytesOf(companyId) },
  );
}
