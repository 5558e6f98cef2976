import type { Contact, Deal, Pipeline } from '@kettle/contract';
import type { Caller } from './installation';

let made = 0;

/** A contact of the caller's; only what the test is about needs to be said. */
export async function aContact(caller: Caller, part: object = {}): Promise<Contact> {
  made += 1;
  return caller.ok<Contact>('createContact', {
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
  const { pipelines } = await caller.ok<{ pipelines: Pipeline[] }>('listPipelines');
  return pipelines[0]!.stages;
}

export async function aDeal(caller: Caller, contactId: string, part: object = {}): Promise<Deal> {
  const [stage] = await stagesOf(caller);
  const next = { kind: 'task', channel: 'call', dueOn: '2026-11-26', purpose: 'ask', minutes: 6 };
  return caller.ok<Deal>('createDeal', {
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
