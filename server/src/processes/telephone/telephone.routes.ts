import type { PhoneCall, TextId } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { instantOf, instantOrNull, sqlInstant } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { sendTextByHand } from '../mail/index';
import { work } from '../../platform/work/work';
import { fileStirring } from './file-stirring';
import { assertMayChange } from '../../records/rights/index';
import type { Row } from '../../platform/database/schema.generated';

type Names = 'fileStirring' | 'dial' | 'getCall' | 'hangUp' | 'sendText' | 'listTexts';

interface CallRow extends Row<
  'phone_call',
  'id' | 'user_id' | 'contact_id' | 'number' | 'state' | 'started_at' | 'answered_at' | 'seconds'
> {
  result: PhoneCall['result'];
}

/** The outcome that what the line tells comes nearest to; the rep may choose another. */
const outcomes: Readonly<Record<NonNullable<PhoneCall['result']>, string | null>> = {
  answered: 'call-spoke',
  'no-answer': 'call-no-answer',
  busy: 'call-busy',
  voicemail: 'call-voicemail',
  'wrong-number': 'call-wrong-number',
  failed: null,
};

export function telephoneRoutes(services: Services): Pick<Handlers, Names> {
  const { database, channels, clock } = services;

  const readCall = async (db: Queryable, id: string, userId: string): Promise<PhoneCall> => {
    const [row] = await db.rows<CallRow>(
      `SELECT id, user_id, contact_id, number, state, result, started_at, answered_at, seconds
         FROM phone_call WHERE id = :id AND user_id = :user`,
      { id: bytesOf(id), user: bytesOf(userId) },
    );
    if (!row) throw new Problem('not-found');
    return {
      id: idOf(row.id),
      contactId: idOrNull(row.contact_id),
      number: row.number,
      state: row.state,
      result: row.result,
      startedAt: instantOf(row.started_at),
      answeredAt: instantOrNull(row.answered_at),
      seconds: row.seconds,
      outcomeId: row.result === null ? null : outcomes[row.result],
    };
  };

  return {
    fileStirring: ({ params, body, who }) => work(services, who, (w) => fileStirring(w, params.id, body)),
    dial: async ({ body, who }) => {
      const { phoneLine } = channels;
      if (phoneLine === null) throw new Problem('not-set-up', { what: $localize`telephone line` });
      const [person] = await database.rows<Row<'contact', 'owner_id'> & { forbidden: number }>(
        `SELECT owner_id, EXISTS (SELECT 1 FROM do_not_contact n WHERE n.contact_id = c.id AND n.channel = 'call') AS forbidden
           FROM contact c WHERE id = :id`,
        { id: bytesOf(body.contactId) },
      );
      if (!person) throw new Problem('not-found');
      await assertMayChange(database, who, idOrNull(person.owner_id));
      if (person.forbidden === 1) throw new Problem('not-to-be-contacted', { channel: 'call' });
      const added = await database.change(
        `INSERT IGNORE INTO phone_call (id, state, number, user_id, contact_id, started_at)
         VALUES (:id, 'dialling', :number, :user, :contact, :now)`,
        {
          id: bytesOf(body.id),
          number: body.number,
          user: bytesOf(who.id),
          contact: bytesOf(body.contactId),
          now: sqlInstant(clock.now()),
        },
      );
      if (added === 1) {
        const asked = { id: body.id, to: body.number, from: who.id };
        const wrong = await phoneLine.dial(asked).then(
          () => null,
          (error: Error) => error,
        );
        if (wrong !== null) {
          await database.change("UPDATE phone_call SET state = 'failed', result = 'failed' WHERE id = :id", {
            id: bytesOf(body.id),
          });
          throw new Problem('not-reached', { what: $localize`telephone line`, why: wrong.message });
        }
      }
      return readCall(database, body.id, who.id);
    },
    getCall: ({ params, who }) => readCall(database, params.id, who.id),
    hangUp: async ({ params, who }) => {
      const call = await readCall(database, params.id, who.id);
      if (call.state !== 'ended') await channels.phoneLine?.hangUp(call.id).catch(() => undefined);
      return readCall(database, params.id, who.id);
    },
    sendText: ({ body, who }) => sendTextByHand(services, who, body),
    listTexts: async ({ query }) => {
      const rows = await database.rows<
        Row<'text_message', 'id' | 'direction' | 'state' | 'at' | 'number' | 'body' | 'said'>
      >(
        `SELECT id, direction, state, at, number, body, said FROM text_message
          WHERE contact_id = :contact ORDER BY at DESC, id DESC LIMIT 100`,
        { contact: bytesOf(query.contactId) },
      );
      return { texts: rows.map((row) => ({ ...row, id: idOf<TextId>(row.id), at: instantOf(row.at) })) };
    },
  };
}
