import type { Deal, DealId, NextStep } from '@kettle/contract';
import { addWorkingDays, localDate } from '@kettle/core/time';
import { Problem } from '../../platform/problem';
import type { PersonWork } from '../../platform/work/work';
import { readPipelines } from '../../records/pipelines/index';
import { createDeal } from './create-deal';

/**
 * Hands a won deal on to another pipeline, say to put in place what was sold: a new deal in its first stage, with the same people and
 * without a value, so that nothing is counted twice. Its first step is on the next working day.
 * @throws Problem `invalid-request` at `handOnTo`
 */
export async function handOn(w: PersonWork, deal: Deal, pipelineId: string): Promise<DealId> {
  const refuse = (message: string) =>
    new Problem('invalid-request', {}, { fields: [{ path: 'handOnTo', message }] });
  const pipeline = (await readPipelines(w)).find(({ id }) => id === pipelineId);
  const [first] = pipeline?.stages ?? [];
  if (pipeline === undefined || first === undefined)
    throw refuse($localize`is not a pipeline; choose one from the list`);
  if (pipeline.stages.some(({ id }) => id === deal.stageId))
    throw refuse($localize`is the pipeline it was won in`);
  if (deal.contactId === null) throw refuse($localize`needs a person; say who the deal is with first`);
  const calendar = w.services.calendars.of(w.who, (await w.settings()).organisation);
  const next: NextStep = {
    ...{ kind: 'task', channel: 'other', promisedMinute: null, minutes: 10 },
    dueOn: addWorkingDays(localDate(w.now, w.who.zone), 1, calendar),
    purpose: $localize`Begin ${pipeline.name}:pipeline:: ${deal.name}:name:`.slice(0, 200),
  };
  return createDeal(
    w,
    {
      ...{ name: deal.name, stageId: first.id, contactId: deal.contactId, currency: deal.currency, next },
      ...{ amountMinor: 0, expectedCloseOn: null, teamIds: deal.team.map(({ id }) => id) },
      people: deal.people.map(({ contactId, role }) => ({ contactId, role })),
    },
    { originId: deal.id },
  );
}
