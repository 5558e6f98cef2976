import {
  changeAgreement as changeBody,
  createAgreement,
  type AgreementRow,
  type ContactId,
} from '@kettle/contract';
import { nameKey } from '@kettle/core/duplicates';
import type { RecordDraft } from '@kettle/core/imports';
import type { Row } from '../../../platform/database/schema.generated';
import { bytesOf } from '../../../platform/ids';
import type { PersonWork } from '../../../platform/work/work';
import { changeAgreement, lockAgreement, readAgreements, writeAgreement } from '../../agreements/index';
import type { Reading } from '../file-kind';
import { isTrue, numberOf, textOf, type Found, type RecordDef, type Values } from './record-kind';
import { findWhom, namesNobody, samePerson } from './whom';

const usual = { noticeDays: 90, leadDays: 30 };

/** Agreements, told apart by name and person. One that began long ago rolls on to the term of today. */
export const agreements: RecordDef = {
  shown: ['name', 'person', 'company', 'startsOn', 'termMonths', 'value'],
  sameAs: (values) => samePerson(values, 'name'),
  find: findAgreements,
  make: async (w, values, { contactId }, { owners }) => {
    await writeAgreement(
      w,
      createAgreement.parse({
        ...{ name: textOf(values, 'name'), contactId, startsOn: textOf(values, 'startsOn') },
        ...{ termMonths: numberOf(values, 'termMonths'), valueMinor: numberOf(values, 'value') },
        ...(textOf(values, 'currency') === '' ? {} : { currency: textOf(values, 'currency') }),
        ...usual,
        renewsItself: isTrue(values, 'renewsItself'),
        ...further(values),
        lines: [],
      }),
      owners.get(textOf(values, 'owner')) ?? w.who.id,
    );
  },
  change,
};

/** What the file says beside what every agreement has. */
function further(values: Values): object {
  const percent = numberOf(values, 'upliftPercent');
  return {
    ...numbersOf(values, ['noticeDays', 'leadDays', 'checkInMonths']),
    ...(percent === null ? {} : { upliftKind: 'percent', upliftBy: Math.round(percent * 100) }),
  };
}

const numbersOf = (values: Values, keys: readonly string[]) =>
  Object.fromEntries(
    keys.flatMap((key) => (numberOf(values, key) === null ? [] : [[key, numberOf(values, key)]])),
  );

async function findAgreements(
  reading: Reading,
  drafts: readonly RecordDraft[],
): Promise<ReadonlyMap<number, Found>> {
  const whom = await findWhom(reading, drafts);
  const known = await readOf(
    reading,
    [...whom.values()].flatMap((each) => (each.kind === 'found' ? each.contactId : [])),
  );
  const found = new Map<number, Found>();
  for (const { line, values } of drafts) {
    const on = whom.get(line);
    if (on === undefined) found.set(line, { problem: namesNobody() });
    else if (on.kind === 'found') {
      const agreement = known.find(
        (each) => each.contactId === on.contactId && nameKey(each.name) === nameKey(textOf(values, 'name')),
      );
      found.set(line, {
        contactId: on.contactId,
        ...(agreement !== undefined && { record: recordOf(agreement) }),
      });
    } else if (on.kind !== 'coming') found.set(line, { problem: on.problem });
  }
  return found;
}

const recordOf = (agreement: AgreementRow): NonNullable<Found['record']> => ({
  ...{ id: bytesOf(agreement.id), name: agreement.name },
  ...{ ownerId: agreement.ownerId, ownerName: agreement.ownerName },
  now: {
    ...{ startsOn: agreement.startsOn, termMonths: agreement.termMonths, value: agreement.valueMinor },
    ...{
      noticeDays: agreement.noticeDays,
      leadDays: agreement.leadDays,
      renewsItself: agreement.renewsItself,
    },
    ...{ checkInMonths: agreement.checkInMonths },
    upliftPercent: agreement.upliftKind === 'percent' ? agreement.upliftBy / 100 : null,
  },
});

/** Agreements of some people that have not ended. */
async function readOf({ db }: Reading, contactIds: readonly ContactId[]): Promise<AgreementRow[]> {
  if (contactIds.length === 0) return [];
  const rows = await db.rows<Row<'agreement', 'id'>>(
    "SELECT id FROM agreement WHERE contact_id IN (:ids) AND state <> 'ended' AND archived_at IS NULL ORDER BY id",
    { ids: [...new Set(contactIds)].map((id) => bytesOf(id)) },
  );
  return readAgreements(
    db,
    rows.map(({ id }) => id),
  );
}

async function change(w: PersonWork, id: string, values: Values): Promise<void> {
  const { version } = await lockAgreement(w, id);
  await changeAgreement(
    w,
    id,
    changeBody.parse({
      version,
      ...(textOf(values, 'startsOn') === '' ? {} : { startsOn: textOf(values, 'startsOn') }),
      ...numbersOf(values, ['termMonths']),
      ...(numberOf(values, 'value') === null ? {} : { valueMinor: numberOf(values, 'value') }),
      ...('renewsItself' in values ? { renewsItself: isTrue(values, 'renewsItself') } : {}),
      ...further(values),
    }),
  );
}
