import type { Queryable } from '@kettle/server/platform/database/database';
import { sqlInstant } from '@kettle/server/platform/database/values';
import { bytesOf, newId } from '@kettle/server/platform/ids';
import { arrivals, signature, snippets, stirrings, templates } from './mail-words';

const minutesBefore = (now: string, minutes: number) =>
  sqlInstant(new Date(Date.parse(now) - minutes * 60_000).toISOString());

/** Templates, snippets and the signature of the rep with too much on. */
export async function writeTexts(tx: Queryable, repId: string, now: string): Promise<void> {
  await tx.change('INSERT INTO template (id, name, channel, subject, body, created_at) VALUES :rows', {
    rows: templates.map(({ name, channel, subject, body }) => [
      bytesOf(newId<string>()),
      name,
      channel,
      subject,
      body,
      sqlInstant(now),
    ]),
  });
  await tx.change('INSERT INTO snippet (id, name, body) VALUES :rows', {
    rows: snippets.map(({ name, body }) => [bytesOf(newId<string>()), name, body]),
  });
  await tx.change('UPDATE app_user SET signature = :signature WHERE id = :id', {
    id: bytesOf(repId),
    signature,
  });
}

/** What waits in the morning: mail that belongs to nobody yet, and signs of life. */
export async function writeArrivals(tx: Queryable, repId: string, now: string): Promise<void> {
  await tx.change(
    `INSERT INTO mail (id, direction, state, kind, message_id, thread_id, from_name, from_address, to_address, subject, text, html, proof, proof_words,
        user_id, at)
     VALUES :rows`,
    {
      rows: arrivals.map(({ from, name, subject, text, html, proof, minutesAgo }, index) => [
        bytesOf(newId<string>()),
        'in',
        'unfiled',
        'human',
        `<arrival-${index}@${from.split('@')[1]}>`,
        bytesOf(newId<string>()),
        name,
        from,
        'imogen@hollinbeck.example',
        subject,
        text,
        html,
        ...proof,
        bytesOf(repId),
        minutesBefore(now, minutesAgo),
      ]),
    },
  );
  for (const { familyName, kind, words, times, minutesAgo } of stirrings)
    await tx.change(
      `INSERT INTO stirring (id, dedupe_key, at, kind, words, times, user_id, contact_id)
       SELECT :id, :key, :at, :kind, :words, :times, c.owner_id, c.id FROM contact c
        WHERE c.family_name = :familyName ORDER BY c.id LIMIT 1`,
      {
        id: bytesOf(newId<string>()),
        key: `demo:${kind}:${familyName}`,
        at: minutesBefore(now, minutesAgo),
        kind,
        words,
        times,
        familyName,
      },
    );
  const from = '+441632960777';
  await tx.change(
    `INSERT INTO stirring (id, dedupe_key, at, kind, words, number) VALUES (:id, 'demo:unknown', :at, 'missed-call', :words, :from)`,
    {
      id: bytesOf(newId<string>()),
      at: minutesBefore(now, 73),
      words: `${from} called and was not answered`,
      from,
    },
  );
}
