import { changeLead as changeBody, createContact, type ContactId, type UserId } from '@kettle/contract';
import { leadPlain, type LeadPlain } from '@kettle/contract/base/catalogues';
import { nameKey, splitName } from '@kettle/core/duplicates';
import type { RecordDraft } from '@kettle/core/imports';
import type { Row } from '../../../platform/database/schema.generated';
import { bytesOf, idOf } from '../../../platform/ids';
import { Problem } from '../../../platform/problem';
import type { PersonWork } from '../../../platform/work/work';
import { readAt } from '../../../records/users/index';
import { addLead, changeLead, readLead, readLeadRows } from '../../leads/index';
import { readPhone } from '@kettle/core/phone';
import type { Reading } from '../file-kind';
import {
  customNow,
  customOf,
  noCustom,
  textOf,
  textOrNull,
  type Found,
  type RecordDef,
  type Values,
} from './record-kind';
import { findWhom, namesNobody, samePerson, type Whom } from './whom';

/** Leads on somebody known, or on somebody new who comes with them; told apart by person and what they want. */
export const leads: RecordDef = {
  shown: ['subject', 'person', 'company', 'owner'],
  sameAs: (values) => samePerson(values, 'subject'),
  find: findLeads,
  make: async (w, values, { contactId }, reading) => {
    const owner = reading.owners.get(textOf(values, 'owner'));
    const draft = {
      ...(leadPlain.each((key) => textOrNull(values, key)) as unknown as LeadPlain),
      subject: textOf(values, 'subject'),
      about: textOf(values, 'about'),
      tags: tagsOf(values),
      custom: customOf(values),
      importId: reading.stored.id,
      ...(owner === undefined ? {} : { ownerId: owner }),
    };
    await addLead(w, contactId ? { contactId } : { person: personOf(values, reading) }, draft);
  },
  change,
};

const tagsOf = ({ tags }: Values): readonly string[] =>
  Array.isArray(tags) ? (tags as readonly string[]) : [];

/** Somebody new: a name, or a company without a person. @throws Problem `invalid-request` */
function personOf(values: Values, reading: Reading) {
  const { givenName, familyName } = splitName(textOf(values, 'person'));
  const isFirm = givenName === '' && familyName === '';
  const asked = createContact.safeParse({
    ...{ givenName, familyName, category: isFirm ? 'organisation' : 'person' },
    companyName: textOrNull(values, 'company'),
    email: textOrNull(values, 'email'),
    phone: readPhone(textOf(values, 'phone'), reading.homeCountry)?.e164 ?? null,
  });
  if (asked.success) return asked.data;
  const fields = asked.error.issues.map(({ path, message }) => ({ path: path.join('.'), message }));
  throw new Problem('invalid-request', {}, { fields });
}

const isNew = (whom: Whom | undefined) =>
  whom === undefined || whom.kind === 'nobody' || whom.kind === 'coming';

async function findLeads(
  reading: Reading,
  drafts: readonly RecordDraft[],
): Promise<ReadonlyMap<number, Found>> {
  const whom = await findWhom(reading, drafts);
  const known = await readOn(
    reading,
    [...whom.values()].flatMap((each) => (each.kind === 'found' ? each.contactId : [])),
  );
  const found = new Map<number, Found>();
  for (const { line, values } of drafts) {
    const on = whom.get(line);
    if (on?.kind === 'refused') {
      found.set(line, { problem: on.problem });
      continue;
    }
    if (on === undefined) {
      found.set(line, { problem: namesNobody() });
      continue;
    }
    if (isNew(on)) {
      const isCalled = textOf(values, 'person') !== '' || textOf(values, 'company') !== '';
      found.set(
        line,
        isCalled || on.kind === 'coming'
          ? {}
          : {
              problem: {
                column: 'person',
                reason: $localize`nobody has this address here; a name is needed to add them`,
              },
            },
      );
      continue;
    }
    if (on.kind !== 'found') continue;
    const lead = known.find(
      (each) =>
        each.contactId === on.contactId && nameKey(each.subject) === nameKey(textOf(values, 'subject')),
    );
    found.set(line, {
      contactId: on.contactId,
      ...(lead !== undefined && {
        record: {
          ...{ id: bytesOf(lead.id), name: `${lead.contactName}: ${lead.subject}` },
          ...{ ownerId: lead.ownerId, ownerName: lead.ownerName },
          now: {
            ...{
              warmth: lead.warmth,
              source: lead.source,
              campaign: lead.campaign,
              followUpOn: lead.followUpOn,
            },
            ...{ tags: lead.tags, owner: lead.ownerName },
            ...noCustom(values),
            ...customNow(lead.custom),
          },
        },
      }),
    });
  }
  return found;
}

/** Leads on some people. Relies on lead_contact. */
async function readOn({ db, today }: Reading, contactIds: readonly ContactId[]) {
  if (contactIds.length === 0) return [];
  const rows = await db.rows<Row<'sales_lead', 'id'>>(
    'SELECT id FROM sales_lead WHERE contact_id IN (:ids) AND archived_at IS NULL ORDER BY id',
    { ids: [...new Set(contactIds)].map((id) => bytesOf(id)) },
  );
  return readLeadRows(
    db,
    rows.map(({ id }) => id),
    today,
  );
}

async function change(w: PersonWork, id: string, values: Values, { owners }: Reading): Promise<void> {
  const { version, tags } = await readLead(w, id, readAt(w.services, w.who));
  const owner: UserId | undefined = owners.get(textOf(values, 'owner'));
  const asked = {
    version,
    ...Object.fromEntries(leadPlain.keys.flatMap((key) => (key in values ? [[key, values[key]]] : []))),
    ...('tags' in values ? { tags: [...new Set([...tags, ...tagsOf(values)])] } : {}),
    ...(owner === undefined ? {} : { ownerId: owner }),
    custom: customOf(values),
  };
  await changeLead(w, idOf(bytesOf(id) as never), changeBody.parse(asked));
}
