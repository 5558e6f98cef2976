import { randomUUID } from 'node:crypto';
import type { Contact, Deal, JournalEntry, Lead, Pipeline, Standing } from '@kettle/contract';
import type { Caller } from './installation';

let made = 0;

/** A contact of the caller's; only what the test is about needs to be said. */
export async function aContact(caller: Caller, part: object = {}): Promise<Contact> {
  made += 1;
  return caller.ok('createContact', {
    body: {
      givenName: 'Maud',
      familyName: `Ellery${made}`,
      companyName: `Penrow Laundry ${made}`,
      email: `maud${made}@penrow.example`,
      phone: '+441632960123',
      country: 'GB',
      ...part,
    },
  });
}

export async function stagesOf(caller: Caller): Promise<Pipeline['stages']> {
  const { pipelines } = await caller.ok('listPipelines');
  return pipelines[0]!.stages;
}

export async function aDeal(caller: Caller, contactId: string, part: object = {}): Promise<Deal> {
  const [stage] = await stagesOf(caller);
  const next = { kind: 'task', channel: 'call', dueOn: '2026-11-26', purpose: 'ask', minutes: 6 };
  return caller.ok('createDeal', {
    body: {
      name: 'Second softener',
      contactId,
      stageId: stage!.id,
      amountMinor: 980_000,
      expectedCloseOn: '2026-12-18',
      next,
      ...part,
    },
  });
}

/** The whole change body of a contact, with a part of it changed. */
export function changeOf(contact: Contact, part: object = {}) {
  return {
    version: contact.version,
    givenName: contact.givenName,
    familyName: contact.familyName,
    jobTitle: contact.jobTitle,
    companyName: contact.companyName,
    email: contact.email,
    phone: contact.phone,
    country: contact.country,
    zone: contact.zone,
    standingId: contact.standingId,
    checkInDays: contact.checkInDays,
    doNotContact: contact.doNotContact.map((mark) => mark.channel),
    ...part,
  };
}

export async function standingNamed(caller: Caller, name: string): Promise<Standing> {
  const { standings } = await caller.ok('listStandings');
  return standings.find((each) => each.standing.name === name)!.standing;
}

export async function journalOf(caller: Caller, query: object): Promise<JournalEntry[]> {
  return (await caller.ok('listJournal', { query })).entries;
}

/** Plans a call about a contact for the day that tests begin on. */
export function aTask(caller: Caller, contactId: string, part: object = {}, changeId?: string) {
  return caller.ok('createTask', {
    body: { channel: 'call', purpose: 'ask', dueOn: '2026-11-24', minutes: 6, contactId, ...part },
    ...(changeId === undefined ? {} : { changeId }),
  });
}

/** Logs an act about a contact, without a next step unless one is given. */
export function aLog(caller: Caller, contactId: string, part: object = {}) {
  return caller.ok('log', {
    body: {
      id: randomUUID(),
      contactId,
      outcomeId: 'call-no-answer',
      next: { kind: 'none', reason: 'enough' },
      ...part,
    },
  });
}

/** An admin changes stages of the first pipeline, by name. */
export async function shapeStages(
  admin: Caller,
  parts: Readonly<Record<string, object>>,
  more: object = {},
): Promise<Pipeline> {
  const { pipelines } = await admin.ok('listPipelines');
  const [pipeline] = pipelines;
  return admin.ok('savePipeline', {
    params: { id: pipeline!.id },
    body: { ...pipelineBody(pipeline!), ...more, stages: stageBodies(pipeline!, parts) },
  });
}

export const pipelineBody = (pipeline: Pipeline) => ({
  version: pipeline.version,
  name: pipeline.name,
  stages: stageBodies(pipeline),
});

const stageBodies = (pipeline: Pipeline, parts: Readonly<Record<string, object>> = {}) =>
  pipeline.stages.map(({ id, name, winProbability, patienceDays, needs, brief }) => ({
    id,
    name,
    winProbability,
    patienceDays,
    needs,
    brief,
    ...parts[name],
  }));

/** A lead on somebody new, owned by the caller. */
export async function aLead(caller: Caller, part: object = {}): Promise<Lead> {
  made += 1;
  const { person, ...rest } = { person: {}, ...part };
  return caller.ok('createLead', {
    body: {
      subject: 'a softener for the bakery',
      ownerId: caller.id,
      source: 'fair',
      person: {
        givenName: 'Nora',
        familyName: `Pell${made}`,
        companyName: `Pell Spa ${made}`,
        email: `nora${made}@pell${made}.example`,
        phone: '+441632960777',
        ...person,
      },
      ...rest,
    },
  });
}
