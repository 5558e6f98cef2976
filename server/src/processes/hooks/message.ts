import type { HookMessage } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf } from '../../platform/database/values';
import { idOf, idOrNull, type IdBytes } from '../../platform/ids';
import * as z from 'zod';

/** Where the API has a record, by what an event calls it. */
const hrefs: Readonly<Record<string, string>> = {
  contact: '/api/contacts/',
  company: '/api/companies/',
  deal: '/api/deals/',
  lead: '/api/leads/',
  agreement: '/api/agreements/',
  appointment: '/api/appointments/',
  mail: '/api/mail/',
};

const dataShape = z.looseObject({
  subjects: z.array(z.string()).default([]),
  fields: z.record(z.string(), z.unknown()).default({}),
  from: z.string().nullish(),
  to: z.string().nullish(),
});

type EventRow = Row<'event', 'at' | 'topic' | 'record_id' | 'user_id' | 'set_id' | 'data'>;

/** What an address is told of an event; null when the event was erased with a person since. */
export async function messageOf(
  db: Queryable,
  eventId: IdBytes<string> | Buffer,
  type: HookMessage['type'],
): Promise<HookMessage | null> {
  const [row] = await db.rows<EventRow>(
    'SELECT at, topic, record_id, user_id, set_id, data FROM event WHERE id = :id',
    { id: eventId },
  );
  if (!row) return null;
  const data = dataShape.parse(JSON.parse(row.data));
  const id = idOf<string>(row.record_id);
  const href = hrefs[row.topic];
  return {
    type,
    timestamp: instantOf(row.at),
    data: {
      ...{ id, record: row.topic, href: href === undefined ? null : href + id },
      ...{ userId: idOrNull<string>(row.user_id), changeId: idOf<string>(row.set_id) },
      ...{ about: data.subjects, fields: namesOf(data.fields) },
      ...{ from: data.from ?? null, to: data.to ?? null },
    },
  };
}

/** `deal.expected_close_on` as `expectedCloseOn`; rows that came or went as what they are rows of. */
function namesOf(fields: Readonly<Record<string, unknown>>): string[] {
  const names = Object.keys(fields).map((name) =>
    name
      .replace(/^[a-z_]+\./, '')
      .replace(/[+-]$/, '')
      .replace(/_([a-z])/g, (_, letter: string) => letter.toUpperCase()),
  );
  return [...new Set(names)].sort();
}
