import { bytesOf, idOrNull, newId } from '../../platform/ids';
import { tellRuns } from '../cadences/index';
import { insertEntries } from '../../records/entries/index';
import { notify } from '../../records/notifications/index';
import { outcomeNamed } from '../../records/settings/index';
import { stir } from '../stirrings/index';
import { type Work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

export interface Answer {
  readonly mailId: string;
  readonly contactId: string;
  readonly dealId: string | null;
  readonly subject: string;
  readonly words: string;
  /** When they wrote: it counts from then, whenever it is filed. */
  readonly at: string;
  /** Who filed it by hand; null when it found its person by itself. */
  readonly byUserId: string | null;
}

/** A person wrote: into the journal, runs end or branch, the owner hears of it and finds it in the Round. */
export async function fileAnswer(w: Work, answer: Answer): Promise<void> {
  const now = w.now;
  const settings = await w.settings();
  const [person] = await w.rows<Row<'contact', 'owner_id' | 'company_id'> & { display_name: string }>(
    'SELECT display_name, owner_id, company_id FROM contact WHERE id = :id',
    {
      id: bytesOf(answer.contactId),
    },
  );
  if (!person) return;
  const outcome = outcomeNamed(settings, 'email-came-in');
  const entryId = newId<string>();
  await insertEntries(w, [
    {
      id: entryId,
      at: answer.at,
      kind: 'email',
      direction: 'in',
      outcomeId: outcome?.id ?? null,
      outcomeLabel: outcome?.label ?? $localize`They wrote`,
      counts: outcome?.counts ?? 'conversation',
      minutes: null,
      body: `${answer.subject}\n\n${answer.words}`,
      userId: answer.byUserId,
      contactId: answer.contactId,
      companyId: idOrNull(person.company_id),
      dealId: answer.dealId,
      taskId: null,
      runId: null,
    },
  ]);
  await w.change('UPDATE mail SET entry_id = :entry WHERE id = :id', {
    id: bytesOf(answer.mailId),
    entry: bytesOf(entryId),
  });
  await tellRuns(w, answer.contactId, ({ id }) => ({
    id: `mail:${answer.mailId}:${id}`,
    at: now,
    kind: 'replied',
    channel: 'email',
  }));
  const words = $localize`answered: ${answer.subject}:subject:`;
  await stir(w, {
    key: `replied:${answer.mailId}`,
    kind: 'replied',
    words,
    contactId: answer.contactId,
    mailId: answer.mailId,
  });
  const ownerId = idOrNull<string>(person.owner_id);
  if (ownerId !== null && answer.byUserId !== ownerId)
    await notify(
      w,
      'answer',
      [ownerId],
      $localize`${person.display_name}:displayname: wrote: ${answer.subject}:subject:`,
      `/people/${answer.contactId}`,
    );
}
