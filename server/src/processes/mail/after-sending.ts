import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, newId } from '../../platform/ids';
import { applyEvent, readRun, tellRuns } from '../cadences/index';
import { insertEntries, writeSystemEntry } from '../../records/entries/index';
import { notify } from '../../records/notifications/index';
import { outcomeNamed } from '../../records/settings/index';
import { stir } from '../stirrings/index';
import type { OutRow } from './send-mail';
import { type Work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

/** The server has taken it: the journal tells so, and the run goes on from its step. Once, however often it is called. */
export async function afterSent(w: Work, row: OutRow, said: string): Promise<void> {
  const now = w.now;
  const changed = await w.change(
    `UPDATE mail SET state = 'sent', said = :said, at = :now, version = version + 1
      WHERE id = :id AND state IN ('handing-over', 'held')`,
    { id: row.id, said: said.slice(0, 500), now: sqlInstant(now) },
  );
  if (changed === 0) return;
  const contactId = idOf<string>(row.contact_id);
  // One written by hand is in the journal since it was written.
  if (row.entry_id !== null) return;
  await sentByItself(w, {
    channel: 'email',
    contactId,
    dealId: idOrNull(row.deal_id),
    userId: idOf(row.user_id),
    runId: idOrNull(row.run_id),
    step: row.run_step,
    body: `${row.subject}\n\n${row.text}`,
    eventId: `sent:${idOf<string>(row.id)}`,
    keep: (entryId) =>
      w.change('UPDATE mail SET entry_id = :entry WHERE id = :id', { id: row.id, entry: bytesOf(entryId) }),
  });
}

export interface SentByItself {
  readonly channel: 'email' | 'text';
  readonly contactId: string;
  readonly dealId: string | null;
  readonly userId: string;
  readonly runId: string | null;
  readonly step: number | null;
  readonly body: string;
  readonly eventId: string;
  keep(entryId: string): Promise<unknown>;
}

/** What went out without a hand: its journal entry, its finished step, the next one. */
export async function sentByItself(w: Work, sent: SentByItself): Promise<void> {
  const now = w.now;
  const settings = await w.settings();
  const outcome = outcomeNamed(settings, `${sent.channel}-sent`);
  const [contact] = await w.rows<Row<'contact', 'company_id'>>(
    'SELECT company_id FROM contact WHERE id = :id FOR UPDATE',
    { id: bytesOf(sent.contactId) },
  );
  // Merged away or removed since: what was sent stays with the mail.
  if (!contact) return;
  const stored = sent.runId === null ? undefined : await readRun(w, sent.runId);
  const dealId = sent.dealId ?? stored?.dealId ?? null;
  const entryId = newId<string>();
  await insertEntries(w, [
    {
      id: entryId,
      at: now,
      kind: sent.channel,
      direction: 'out',
      outcomeId: outcome?.id ?? null,
      outcomeLabel: outcome?.label ?? 'Sent',
      counts: outcome?.counts ?? 'attempt',
      minutes: null,
      body: sent.body,
      userId: sent.userId,
      contactId: sent.contactId,
      companyId: contact.company_id === null ? null : idOf<string>(contact.company_id),
      dealId,
      taskId: null,
      runId: sent.runId,
    },
  ]);
  await sent.keep(entryId);
  if (stored && sent.step !== null) {
    await w.change(
      `UPDATE task SET state = 'done', finished_at = :now, version = version + 1
        WHERE run_id = :run AND run_step = :step AND is_automatic AND state = 'open'`,
      { run: bytesOf(stored.id), step: sent.step, now: sqlInstant(now) },
    );
    const event = { id: sent.eventId, at: now, kind: 'sent', step: sent.step } as const;
    await applyEvent(w, stored, event);
  }
}

/** The server would not have it, for good: the sender hears of it, and a wrong address is marked as one. */
export async function afterRefused(w: Work, row: OutRow, said: string, isAddress: boolean): Promise<void> {
  const now = w.now;
  const changed = await w.change(
    `UPDATE mail SET state = 'failed', said = :said, version = version + 1
      WHERE id = :id AND state IN ('waiting', 'handing-over')`,
    { id: row.id, said: said.slice(0, 500) },
  );
  if (changed === 0) return;
  const contactId = idOf<string>(row.contact_id);
  const mailId = idOf<string>(row.id);
  if (isAddress) {
    await addressIsDead(w, {
      contactId,
      address: row.to_address,
      eventId: `refused:${mailId}`,
      mailId,
      said,
    });
  } else {
    await writeSystemEntry(w, {
      contactId,
      body: $localize`A mail could not be sent: “${row.subject}:subject:” (${said}:said:)`,
    });
    const stored = row.run_id === null ? undefined : await readRun(w, idOf(row.run_id));
    if (stored && row.run_step !== null)
      await applyEvent(w, stored, {
        id: `refused:${mailId}`,
        at: now,
        kind: 'not-sent',
        step: row.run_step,
        reason: $localize`the mail could not be sent`,
      });
  }
  await notify(
    w,
    'trouble',
    [idOf(row.user_id)],
    $localize`A mail to ${row.to_address}:toaddress: could not be sent: ${said}:said:`,
    `/people/${contactId}`,
  );
}

/** An address that does not work is marked, and runs go on without it. */
export async function addressIsDead(
  w: Work,
  dead: { contactId: string; address: string; eventId: string; mailId: string; said: string },
): Promise<void> {
  const now = w.now;
  await w.change(
    `UPDATE contact SET email_unusable = TRUE, version = version + 1
      WHERE id = :id AND LOWER(email) = LOWER(:address) AND NOT email_unusable`,
    { id: bytesOf(dead.contactId), address: dead.address },
  );
  await tellRuns(w, dead.contactId, (stored) => ({
    id: `${dead.eventId}:${stored.id}`,
    at: now,
    kind: 'bounced',
    channel: 'email',
  }));
  await writeSystemEntry(w, {
    contactId: dead.contactId,
    body: $localize`Mail to ${dead.address}:address: came back: ${dead.said}:said:`,
  });
  await stir(w, {
    key: dead.eventId,
    kind: 'bounced',
    words: $localize`${dead.address}:address: does not work`,
    contactId: dead.contactId,
    mailId: dead.mailId,
  });
}
