import * as z from 'zod';
import { GatewayRefusal } from './gateway';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';
import { sendTextKind } from '../../activity/outbox/index';
import { enqueue } from '../../platform/jobs/job-table';
import type { JobKind } from '../../platform/jobs/worker';
import type { Services } from '../../platform/services';
import { sentByItself } from '../mail/index';
import { notify } from '../../records/notifications/index';
import { type Work, work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

const ofText = z.object({ textId: z.uuid() });
const mostAttempts = 8;

interface TextRow extends Row<
  'text_message',
  'id' | 'state' | 'number' | 'body' | 'run_id' | 'run_step' | 'entry_id' | 'attempts'
> {
  user_id: IdBytes;
  contact_id: IdBytes;
}

/** Hands a text to the gateway under a key that it honours, so that a repeated try sends nothing twice. */
export function sendTextJob(services: Services): JobKind {
  return {
    words: $localize`sending a text message`,
    effect: 'guarded',
    run: async (payload) => {
      const { database, channels, clock } = services;
      const [row] = await database.rows<TextRow>(
        `SELECT id, state, number, body, user_id, contact_id, run_id, run_step, entry_id, attempts
           FROM text_message WHERE id = :id`,
        { id: bytesOf(ofText.parse(payload).textId) },
      );
      if (row?.state !== 'waiting') return;
      if (channels.textGateway === null)
        return tryLater(services, row, $localize`no gateway for texts is set up`);
      const key = idOf<string>(row.id);
      let sent: string;
      try {
        sent = await channels.textGateway.send({ key, to: row.number, body: row.body });
      } catch (error) {
        const said = (error as Error).message;
        return error instanceof GatewayRefusal ? fail(services, row, said) : tryLater(services, row, said);
      }
      await work(services, null, async (w) => {
        const changed = await w.change(
          "UPDATE text_message SET state = 'sent', gateway_id = :gateway, at = :now WHERE id = :id AND state = 'waiting'",
          { id: row.id, gateway: sent, now: sqlInstant(clock.now()) },
        );
        if (changed === 1) await tell(w, row);
      });
    },
  };
}

async function tell(w: Work, row: TextRow): Promise<void> {
  const contactId = idOf<string>(row.contact_id);
  if (row.entry_id !== null) return;
  await sentByItself(w, {
    channel: 'text',
    contactId,
    dealId: null,
    userId: idOf(row.user_id),
    runId: idOrNull(row.run_id),
    step: row.run_step,
    body: row.body,
    eventId: `text:${idOf<string>(row.id)}`,
    keep: (entryId) =>
      w.change('UPDATE text_message SET entry_id = :entry WHERE id = :id', {
        id: row.id,
        entry: bytesOf(entryId),
      }),
  });
}

async function tryLater(services: Services, row: TextRow, said: string): Promise<void> {
  const { clock } = services;
  const attempts = row.attempts + 1;
  if (attempts >= mostAttempts) return fail(services, row, said);
  await work(services, null, async (w) => {
    await w.change('UPDATE text_message SET attempts = :attempts, said = :said WHERE id = :id', {
      id: row.id,
      attempts,
      said: said.slice(0, 300),
    });
    const id = idOf<string>(row.id);
    await enqueue(w, {
      kind: sendTextKind,
      dedupeKey: `${sendTextKind}:${id}:${attempts}`,
      payload: { textId: id },
      dueAt: new Date(clock.millis() + 15_000 * 2 ** attempts).toISOString(),
    });
  });
}

async function fail(services: Services, row: TextRow, said: string): Promise<void> {
  await work(services, null, (w) => textFailed(w, row, said));
}

/** A text that does not arrive: the sender hears of it. */
export async function textFailed(
  w: Work,
  row: Pick<TextRow, 'id' | 'number' | 'user_id' | 'contact_id'>,
  said: string,
): Promise<void> {
  await w.change("UPDATE text_message SET state = 'failed', said = :said WHERE id = :id", {
    id: row.id,
    said: said.slice(0, 300),
  });
  const contactId = idOf<string>(row.contact_id);
  const words = $localize`A text to ${row.number}:number: did not arrive: ${said}:said:`;
  await notify(w, 'trouble', [idOf(row.user_id)], words, `/people/${contactId}`);
}
