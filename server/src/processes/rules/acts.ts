import type {
  CadenceId,
  ContactId,
  DealId,
  HookId,
  RuleAct,
  RuleSubject,
  TemplateId,
  UserId,
} from '@kettle/contract';
import { addDays, onOrAfterWorkingDay } from '@kettle/core/time';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf, idOrNull, newId } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';
import { Problem } from '../../platform/problem';
import { actingAs, type PersonWork } from '../../platform/work/work';
import { insertTask } from '../../activity/tasks/index';
import { giveTo, moveStanding, readContact, writeCell } from '../../records/contacts/index';
import { notify } from '../../records/notifications/index';
import { readPerson, readSignedIn } from '../../records/users/index';
import { ownersDay } from '../agreements/index';
import { giveRecords } from '../bulk/index';
import { readCurrentVersion, startRunsInside, tellRuns } from '../cadences/index';
import { createDeal } from '../deals/index';
import { sendMailInside, sendTextInside } from '../mail/index';
import { beginAsked } from '../renewals/index';
import { readText } from '../templates/index';
import { changeOpenDeal, setField } from './set-field';
import type { StoredRule } from './stored-rules';
import { subjects } from './subjects';

/** What a rule acts on: the record, and the person, company and deal that go with it. */
export interface ActedOn {
  readonly kind: RuleSubject;
  readonly id: string;
  readonly name: string;
  readonly path: string;
  readonly contactId: ContactId | null;
  readonly companyId: string | null;
  readonly dealId: DealId | null;
  readonly ownerId: UserId | null;
}

const companyOf: Readonly<Record<RuleSubject, string>> = {
  contact: 'c.company_id',
  deal: 'd.company_id',
  lead: '(SELECT p.company_id FROM contact p WHERE p.id = l.contact_id)',
  agreement: 'a.company_id',
};

/** @throws Problem `not-found` */
export async function readSubject(w: PersonWork, kind: RuleSubject, id: string): Promise<ActedOn> {
  const { table, alias, name, path } = subjects[kind];
  const contact = kind === 'contact' ? 'c.id' : `${alias}.contact_id`;
  const deal = { contact: 'NULL', deal: 'd.id', lead: 'l.deal_id', agreement: 'NULL' }[kind];
  const [row] = await w.rows<
    Record<'contact_id' | 'company_id' | 'deal_id' | 'owner_id', Buffer | null> & {
      name: string | null;
    }
  >(
    `SELECT ${name} AS name, ${contact} AS contact_id, ${companyOf[kind]} AS company_id, ${deal} AS deal_id, ${alias}.owner_id
       FROM ${table} ${alias} WHERE ${alias}.id = :id FOR UPDATE`,
    { id: bytesOf(id) },
  );
  if (!row) throw new Problem('not-found');
  return {
    ...{ kind, id, name: row.name ?? '', path: path + id },
    ...{ contactId: idOrNull(row.contact_id as never), companyId: idOrNull(row.company_id as never) },
    ...{ dealId: idOrNull(row.deal_id as never), ownerId: idOrNull(row.owner_id as never) },
  };
}

type Doing<Kind extends RuleAct['kind']> = (
  w: PersonWork,
  on: ActedOn,
  act: Extract<RuleAct, { kind: Kind }>,
  rule: StoredRule,
) => Promise<string>;

/** Does one thing of a rule, as if somebody had done it by hand. @returns what was done, in words @throws Problem */
export function doAct(w: PersonWork, on: ActedOn, act: RuleAct, rule: StoredRule): Promise<string> {
  return (doings[act.kind] as Doing<RuleAct['kind']>)(w, on, act, rule);
}

const needsPerson = ({ contactId }: ActedOn): ContactId => {
  if (contactId === null) throw new Problem('not-found');
  return contactId;
};

/** In the name of whoever owns the record; of the rule's author where it is nobody's. */
async function asOwner(w: PersonWork, { ownerId }: ActedOn): Promise<PersonWork> {
  return ownerId === null || ownerId === w.who.id ? w : actingAs(w, await readSignedIn(w, ownerId, w.now));
}

const doings: { readonly [Kind in RuleAct['kind']]: Doing<Kind> } = {
  task: async (w, on, { channel, purpose, inDays, minutes, ownerId: asked }) => {
    const ownerId = asked ?? on.ownerId ?? w.who.id;
    const { today, calendar } = await ownersDay(w, ownerId);
    const dueOn = onOrAfterWorkingDay(addDays(today, inDays), calendar);
    await insertTask(w, {
      ...{ channel, purpose, dueOn, minutes, ownerId, promisedAt: null, madeBy: null, run: null },
      ...{ contactId: on.contactId, companyId: on.companyId, dealId: on.dealId },
    });
    const owner = await readPerson(w, ownerId);
    return $localize`task for ${owner.name}:name: on ${dueOn}:on:: ${purpose}:purpose:`;
  },
  deal: async (w, on, { name, stageId, closeInDays, amountMinor }) => {
    const acting = await asOwner(w, on);
    const { today, calendar } = await ownersDay(w, acting.who.id);
    await createDeal(
      acting,
      {
        ...{ name, stageId, contactId: needsPerson(on), amountMinor: amountMinor ?? 0 },
        expectedCloseOn: addDays(today, closeInDays),
        next: {
          ...{ kind: 'task', channel: 'call', promisedMinute: null, minutes: 6 },
          ...{ dueOn: onOrAfterWorkingDay(today, calendar), purpose: name },
        },
      },
      { isByItself: true },
    );
    return $localize`deal “${name}:name:”`;
  },
  field: (w, on, act) => setField(w, on, act),
  stage: async (w, on, { stageId }) => {
    await changeOpenDeal(w, on.id, { stageId });
    const [stage] = await w.rows<Row<'stage', 'name'>>('SELECT name FROM stage WHERE id = :id', {
      id: bytesOf(stageId),
    });
    return $localize`moved to ${stage?.name ?? ''}:stage:`;
  },
  standing: async (w, on, { standingId }) => {
    await moveStanding(w, needsPerson(on), standingId);
    const [standing] = await w.rows<Row<'standing', 'name'>>('SELECT name FROM standing WHERE id = :id', {
      id: bytesOf(standingId),
    });
    return $localize`standing ${standing?.name ?? ''}:name:`;
  },
  owner: async (w, on, { ownerId }) => {
    if (on.kind === 'contact') await giveTo(w, await readContact(w, on.id), ownerId);
    else if (on.kind === 'lead')
      await giveRecords(w, { kind: 'lead', ids: [on.id as never], ownerId, alsoTo: [] });
    else await giveRecords(w, { kind: on.kind, ids: [on.id as never], ownerId });
    return $localize`given to ${(await readPerson(w, ownerId)).name}:name:`;
  },
  tag: async (w, on, { tag, isTaken }) => {
    const contact = await readContact(w, needsPerson(on));
    const name = tag.toLowerCase();
    const rest = contact.tags.filter((each) => each !== name);
    const value = isTaken ? rest : [...rest, name].sort();
    if (value.length !== contact.tags.length) await writeCell(w, contact, { field: 'tags', value });
    return isTaken ? $localize`tag “${name}:tag:” taken off` : $localize`tag “${name}:tag:”`;
  },
  'start-cadence': async (w, on, { cadenceId }) => {
    const acting = await asOwner(w, on);
    const version = await readCurrentVersion(w, cadenceId);
    const { leftOut } = await startRunsInside(acting, {
      ...{ requestId: w.id, cadenceId: cadenceId as CadenceId, versionId: version.id },
      ...{ contactIds: [needsPerson(on)], dealId: on.dealId, startOn: {} },
    });
    return leftOut.length > 0
      ? $localize`not started on “${version.name}:cadence:”: ${leftOut[0]!.words}:why:`
      : $localize`started on “${version.name}:cadence:”`;
  },
  'stop-cadences': async (w, on, _act, rule) => {
    let stopped = 0;
    await tellRuns(w, needsPerson(on), ({ id }) => {
      stopped += 1;
      const reason = $localize`stopped by the house rule “${rule.name}:rule:”`;
      return { id: `rule:${w.id}:${id}`, at: w.now, kind: 'stopped', reason };
    });
    return stopped === 0 ? $localize`no cadence to stop` : $localize`cadences stopped: ${stopped}:count:`;
  },
  notify: async (w, on, { to, words }, rule) => {
    const people = await colleaguesOf(w, on, to);
    await notify(w, 'changed', people, `${words}: ${on.name}`, on.path, true);
    return $localize`told ${new Set(people).size}:count: by “${rule.name}:rule:”: ${words}:words:`;
  },
  write: async (w, on, { to, subject, words }) => {
    const people = [...new Set(await colleaguesOf(w, on, to))];
    for (const userId of people)
      await enqueue(w, {
        ...{
          kind: ruleLetterKind,
          dedupeKey: `${ruleLetterKind}:${w.id}:${userId}:${subject}`,
          dueAt: w.now,
        },
        payload: { userId, subject: `${subject}: ${on.name}`.slice(0, 200), words, path: on.path },
      });
    return $localize`mail “${subject}:subject:” to ${people.length}:count: of us`;
  },
  renewal: async (w, on) => {
    const isBegun = await beginAsked(w, on.id);
    return isBegun
      ? $localize`its renewal begun`
      : $localize`nothing: its renewal is there, or nobody is known`;
  },
  mail: async (w, on, { templateId, to }) => {
    const text = await readText(w, templateId);
    const acting = await asOwner(w, on);
    if (to === 'owner') {
      await enqueue(w, {
        ...{ kind: ruleMailKind, dedupeKey: `${ruleMailKind}:${w.id}:${templateId}`, dueAt: w.now },
        payload: { userId: acting.who.id, templateId, contactId: needsPerson(on), dealId: on.dealId },
      });
      return $localize`mail “${text.name}:template:” to ${acting.who.name}:name:`;
    }
    await sendMailInside(acting, { ...letterTo(on, templateId), ...text, answers: null });
    return $localize`mail “${text.name}:template:” to them`;
  },
  text: async (w, on, { templateId }) => {
    const text = await readText(w, templateId);
    await sendTextInside(await asOwner(w, on), { ...letterTo(on, templateId), ...text, answers: null });
    return $localize`text “${text.name}:template:” to them`;
  },
  hook: async (w, on, { hookId }) => {
    const [hook] = await w.rows<Row<'hook', 'name'>>(
      'SELECT name FROM hook WHERE id = :id AND removed_at IS NULL',
      { id: bytesOf(hookId) },
    );
    if (!hook) throw new Problem('not-found');
    w.publish({
      ...{ kind: 'rule-fired', topic: subjects[on.kind].topic as 'deal', recordId: on.id },
      data: { hookId: hookId as HookId, subjects: [on.contactId, on.dealId].filter(Boolean) },
    });
    return $localize`web hook “${hook.name}:name:”`;
  },
};

export const ruleMailKind = 'rule-mail';
export const ruleLetterKind = 'rule-letter';

async function colleaguesOf(
  w: PersonWork,
  { ownerId }: ActedOn,
  to: Extract<RuleAct, { kind: 'notify' }>['to'],
): Promise<string[]> {
  const people: string[] = [];
  for (const each of to) {
    if (each === 'owner') people.push(ownerId ?? w.who.id);
    else if (each === 'manager') people.push(...(await managerOf(w, ownerId ?? w.who.id)));
    else people.push(each);
  }
  return people;
}

const letterTo = (on: ActedOn, templateId: string) => ({
  ...{ id: newId<never>(), contactId: needsPerson(on), dealId: on.dealId, taskId: null },
  templateId: templateId as TemplateId,
  next: { kind: 'none' as const, reason: $localize`sent by a house rule` },
});

async function managerOf(w: PersonWork, userId: string): Promise<string[]> {
  const [row] = await w.rows<Row<'app_user', 'manager_id'>>(
    'SELECT manager_id FROM app_user WHERE id = :id',
    {
      id: bytesOf(userId),
    },
  );
  const id = idOrNull<string>(row?.manager_id ?? null);
  return id === null ? [] : [id];
}
