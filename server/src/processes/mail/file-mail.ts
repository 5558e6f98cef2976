import type { Queryable } from '../../platform/database/database';
import { bytesOf, idOrNull, newId, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { tellRuns } from '../cadences/tell-runs';
import { noteChange } from '../../platform/change-feed/feed';
import { refreshTouchFacts } from '../../activity/touch/touch-facts';
import { insertEntries } from '../../activity/journal/write-entry';
import { notify } from '../../activity/notifications/notify';
import { outcomeNamed } from '../../records/settings/settings';
import { stir } from '../stirrings/stirrings';

export interface Answer {
  readonly mailId: string;
  readonly contactId: string;
  readonly dealId: string | null;
  readonly subject: string;
  readonly words: string;
  /** Who filed it by hand; null when it found its person by itself. */
  readonly byUserId: string | null;
}

/** A person wrote: into the journal, runs end or branch, the owner hears of it and finds it in the Round. */
export async function fileAnswer(tx: Queryable, services: Services, answer: Answer): Promise<void> {
  const now = services.clock.now();
  const settings = await services.settings.read(tx);
  const [person] = await tx.rows<{
    display_name: string;
    owner_id: IdBytes | null;
    company_id: IdBytes | null;
  }>('SELECT display_name, owner_id, company_id FROM contact WHERE id = :id', {
    id: bytesOf(answer.contactId),
  });
  if (!person) return;
  const outcome = outcomeNamed(settings, 'email-came-in');
  const entryId = newId<string>();
  await insertEntries(
    tx,
    [
      {
        id: entryId,
        at: now,
        kind: 'email',
        direction: 'in',
        outcomeId: outcome?.id ?? null,
        outcomeLabel: outcome?.label ?? 'They wrote',
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
    ],
    now,
  );
  await tx.change('UPDATE mail SET entry_id = :entry WHERE id = :id', {
    id: bytesOf(answer.mailId),
    entry: bytesOf(entryId),
  });
  await tellRuns(tx, services, settings, answer.contactId, ({ id }) => ({
    id: `mail:${answer.mailId}:${id}`,
    at: now,
    kind: 'replied',
    channel: 'email',
  }));
  await refreshTouchFacts(tx, services, settings, answer.contactId);
  const words = `answered: ${answer.subject}`;
  await stir(tx, services, {
    key: `replied:${answer.mailId}`,
    kind: 'replied',
    words,
    contactId: answer.contactId,
    mailId: answer.mailId,
  });
  const ownerId = idOrNull<string>(person.owner_id);
  if (ownerId !== null && answer.byUserId !== ownerId)
    await notify(
      tx,
      [ownerId],
      `${person.display_name} wrote: ${answer.subject}`,
      `/people/${answer.contactId}`,
      now,
    );
  for (const [topic, id] of [
    ['journal', entryId],
    ['contact', answer.contactId],
  ] as const)
    await noteChange(tx, topic, id, answer.byUserId);
}
