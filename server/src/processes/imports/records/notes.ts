import { newId, bytesOf } from '../../../platform/ids';
import { writeNote } from '@kettle/contract';
import { localMoment } from '@kettle/core/time';
import { addNote } from '../../../activity/journal/index';
import type { RecordDraft } from '@kettle/core/imports';
import type { Row } from '../../../platform/database/schema.generated';
import { sqlInstant } from '../../../platform/database/values';
import type { IdBytes } from '../../../platform/ids';
import type { Reading } from '../file-kind';
import { findAbout } from './about';
import { textOf, type Found, type RecordDef, type Values } from './record-kind';

const noon = 12 * 60;

/** Notes about a person, a company or a deal, at noon of the day they were written; the same words on one day are one. */
export const notes: RecordDef = {
  shown: ['body', 'person', 'company', 'deal', 'on'],
  sameAs: (values) =>
    ['body', 'on', 'email', 'person', 'company', 'deal'].map((key) => textOf(values, key)).join('|'),
  find: findNotes,
  make: async (w, values, { contactId, companyId, dealId }, reading) => {
    const on = textOf(values, 'on');
    const at = on === '' || on >= reading.today ? null : momentOf(on, reading);
    await addNote(
      w,
      writeNote.parse({
        ...{ id: newId<string>(), body: textOf(values, 'body'), at },
        ...{ contactId: contactId ?? null, companyId: companyId ?? null, dealId: dealId ?? null },
      }),
    );
  },
};

const momentOf = (on: string, { who }: Reading) => localMoment(on, noon, who.zone);

type NoteRow = Row<'journal_entry', 'id' | 'body' | 'user_id'>;

async function findNotes(
  reading: Reading,
  drafts: readonly RecordDraft[],
): Promise<ReadonlyMap<number, Found>> {
  const about = await findAbout(reading, drafts, { canBeCompany: true });
  const found = new Map<number, Found>();
  for (const { line, values } of drafts) {
    const each = about.get(line) ?? {};
    const record = each.problem === undefined ? await findSame(reading, each, values) : undefined;
    const isAhead = textOf(values, 'on') > reading.today;
    if (isAhead) found.set(line, { problem: { column: 'on', reason: $localize`lies ahead` } });
    else found.set(line, record === undefined ? each : { ...each, record });
  }
  return found;
}

/** A note with the same words about the same, written at the same moment; of today's, at any. */
async function findSame(
  reading: Reading,
  { contactId, companyId, dealId }: Found,
  values: Values,
): Promise<Found['record']> {
  const on = textOf(values, 'on');
  const [column, id] = dealId
    ? ['deal_id', dealId]
    : contactId
      ? ['contact_id', contactId]
      : ['company_id', companyId ?? null];
  if (id === null) return undefined;
  const [row] = await reading.db.rows<NoteRow>(
    `SELECT id, body, user_id FROM journal_entry
      WHERE ${column} = :id AND kind = 'note' AND body = :body AND (:at IS NULL OR at = :at) ORDER BY at, id LIMIT 1`,
    {
      ...{ id: bytesOf(id), body: textOf(values, 'body') },
      at: on === '' || on >= reading.today ? null : sqlInstant(momentOf(on, reading)),
    },
  );
  if (row === undefined) return undefined;
  return {
    id: row.id as IdBytes,
    name: row.body.slice(0, 60),
    ...{ ownerId: null, ownerName: null, now: {} },
  };
}
