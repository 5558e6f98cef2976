import { namesOnly } from '../removal/index';

/** Business records that are kept, without the person on them. */
export const keptWithout: ReadonlySet<string> = new Set(['deal.contact_id', 'agreement.contact_id']);

/** What a deletion leaves without a name, and erasing deletes: it is the person's, wherever it hangs. */
const deletedToo = new Set([
  'mail.contact_id',
  'phone_call.contact_id',
  'stirring.contact_id',
  'stored_file.contact_id',
  'text_message.contact_id',
]);

/** What is somebody else's as well: it stays, and names the person no more. */
export const namesOnlyOfPerson: ReadonlySet<string> = new Set(
  [...namesOnly].filter((reference) => !deletedToo.has(reference)),
);
