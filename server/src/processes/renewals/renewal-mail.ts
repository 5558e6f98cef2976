import { agreementId, dealId, plainDate, userId } from '@kettle/contract';
import * as z from 'zod';
import { sendNotice } from '../../activity/outbox/index';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf } from '../../platform/ids';
import type { JobKind } from '../../platform/jobs/worker';
import type { Services } from '../../platform/services';
import { sayWhatIsKnown } from './what-is-known';

export const renewalMailKind = 'renewal-mail';

const asked = z.object({ userId, dealId, agreementIds: z.array(agreementId), on: plainDate });

/** What the talk about a renewal needs, by mail to whoever leads it; not to somebody who wants to hear nothing of renewals. */
export const renewalMail = (services: Services): JobKind => ({
  words: $localize`the mail about a renewal`,
  effect: 'guarded',
  run: async (payload) => {
    const { userId: id, dealId: deal, agreementIds, on } = asked.parse(payload);
    const { database, channels } = services;
    const [person] = await database.rows<Row<'app_user', 'email'>>(
      `SELECT email FROM app_user WHERE id = :id AND deactivated_at IS NULL
          AND NOT EXISTS (SELECT 1 FROM told_choice t WHERE t.user_id = :id AND t.kind = 'renewal' AND t.level = 'none')`,
      { id: bytesOf(id) },
    );
    const [known] = await database.rows<Row<'deal', 'name'>>('SELECT name FROM deal WHERE id = :id', {
      id: bytesOf(deal),
    });
    // The deal is gone: its making was undone.
    if (person === undefined || known === undefined || channels.mailOut === null) return;
    const lines = await sayWhatIsKnown(database, agreementIds, on);
    const isSent = await sendNotice(services, {
      to: person.email,
      key: `renewal-${deal}-${id}`,
      subject: $localize`A renewal comes up: ${known.name}:name:`,
      text: `${lines.join('\n')}\n\n${channels.publicOrigin}/deals/${deal}\n`,
    });
    if (!isSent) throw new Error('the mail did not leave');
  },
});
