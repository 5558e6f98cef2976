import type { RuleAct, RuleSubject } from '@kettle/contract';
import {
  agreementSettings,
  cellField,
  changeAgreement as agreementBody,
  changeContact as contactBody,
  changeDeal as dealBody,
  changeLead as leadBody,
  type CellField,
  type StageId,
} from '@kettle/contract';
import { contactPlain, dealPlain, leadPlain } from '@kettle/contract/base/catalogues';
import { judgeCustomValue } from '@kettle/core/fields';
import { addDays, localDate } from '@kettle/core/time';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { PersonWork } from '../../platform/work/work';
import { readContact, writeCell } from '../../records/contacts/index';
import { readCustomFields } from '../../records/fields/index';
import { readAt } from '../../records/users/index';
import { changeAgreement, lockAgreement } from '../agreements/index';
import { changeDeal, readDeal } from '../deals/index';
import { changeLead, readLead } from '../leads/index';

type Setting = Extract<RuleAct, { kind: 'field' }>;
type Shape = Readonly<Record<string, z.ZodType>>;

/** What each kind of record has to set, by the name it goes by, and how a value is read. */
const settable: Readonly<
  Record<RuleSubject, { readonly names: Shape; readonly words: Record<string, string> }>
> = {
  contact: { names: contactBody.shape, words: contactPlain.each((_, { name }) => name) },
  deal: { names: dealBody.shape, words: dealPlain.each((_, { name }) => name) },
  lead: { names: leadBody.shape, words: leadPlain.each((_, { name }) => name) },
  agreement: { names: agreementBody.shape, words: agreementSettings },
};

const ownPrefix = 'custom:';

async function findOwn(db: Queryable, subject: RuleSubject, field: string) {
  if (subject === 'agreement' || !field.startsWith(ownPrefix)) return undefined;
  const fields = await readCustomFields(db, subject);
  return fields.find(({ id }) => id === field.slice(ownPrefix.length));
}

/** What is wrong with what a rule is to set; null when it can be. */
export async function settingProblem(
  db: Queryable,
  subject: RuleSubject,
  { field, value, inDays }: Setting,
): Promise<{ readonly field: 'field' | 'value'; readonly message: string } | null> {
  const wrong = (message: string) => ({ field: 'value', message }) as const;
  const given = inDays === null ? value : '2026-01-01';
  const own = await findOwn(db, subject, field);
  if (own !== undefined) {
    if (inDays !== null && own.type !== 'date') return wrong($localize`is not a date`);
    const reason = Array.isArray(given) ? $localize`does not fit` : judgeCustomValue(given, own);
    return reason === null ? null : wrong(reason);
  }
  const { words, names } = settable[subject];
  if (!Object.hasOwn(words, field))
    return { field: 'field', message: $localize`is no field that a rule can set` };
  const read = names[field]!.safeParse(given);
  return read.success ? null : wrong(read.error.issues[0]!.message);
}

/** Sets a field as a change of the record by hand does. @returns what was set, in words @throws Problem as the change does */
export async function setField(
  w: PersonWork,
  on: { readonly kind: RuleSubject; readonly id: string },
  { field, value, inDays }: Setting,
): Promise<string> {
  const given = inDays === null ? value : addDays(localDate(w.now, w.who.zone), inDays);
  const own = await findOwn(w, on.kind, field);
  const part = own === undefined ? { [field]: given } : { custom: { [own.id]: given } };
  await setters[on.kind](w, on.id, part, { field, given });
  const name = own?.name ?? settable[on.kind].words[field] ?? field;
  return $localize`${name}:field: set to ${String(given)}:value:`;
}

type Setter = (
  w: PersonWork,
  id: string,
  part: object,
  cell: { readonly field: string; readonly given: Setting['value'] },
) => Promise<void>;

const setters: Readonly<Record<RuleSubject, Setter>> = {
  contact: async (w, id, _, { field, given }) => {
    const cell = cellField.parse(field) as CellField;
    await writeCell(w, await readContact(w, id), { field: cell, value: given });
  },
  deal: (w, id, part) => changeOpenDeal(w, id, part),
  lead: async (w, id, part) => {
    const { version } = await readLead(w, id, readAt(w.services, w.who));
    await changeLead(w, id, leadBody.parse({ version, ...part }));
  },
  agreement: async (w, id, part) => {
    const { version } = await lockAgreement(w, id);
    await changeAgreement(w, id, agreementBody.parse({ version, ...part }));
  },
};

/** @throws Problem `stale` where it is not open any more, and what its stage asks for */
export async function changeOpenDeal(w: PersonWork, id: string, part: object): Promise<void> {
  const deal = await readDeal(w, id, readAt(w.services, w.who));
  await changeDeal(w, id, {
    ...{ version: deal.version, name: deal.name, stageId: deal.stageId as StageId },
    ...{ amountMinor: deal.amountMinor, expectedCloseOn: deal.expectedCloseOn, tick: [] },
    ...part,
  });
}
