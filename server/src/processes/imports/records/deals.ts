import {
  changeDeal as changeBody,
  closeDeal as closeBody,
  type ContactId,
  type CreateDeal,
  type DealId,
  type StageId,
} from '@kettle/contract';
import { dealPlain, type DealPlainColumns } from '@kettle/contract/base/catalogues';
import { nameKey } from '@kettle/core/duplicates';
import type { RecordDraft } from '@kettle/core/imports';
import { onOrAfterWorkingDay } from '@kettle/core/time';
import { insertTask } from '../../../activity/tasks/index';
import type { Row } from '../../../platform/database/schema.generated';
import { wholeNumber } from '../../../platform/database/values';
import { bytesOf, idOf, idOrNull } from '../../../platform/ids';
import type { PersonWork } from '../../../platform/work/work';
import { readCustomValues } from '../../../records/fields/index';
import { readAt } from '../../../records/users/index';
import { changeDeal, closeDeal, createDeal, readDeal } from '../../deals/index';
import { ownersDay } from '../../agreements/index';
import type { Reading } from '../file-kind';
import {
  customNow,
  customOf,
  noCustom,
  numberOf,
  textOf,
  textOrNull,
  type Found,
  type RecordDef,
  type Values,
} from './record-kind';
import { findWhom, namesNobody, samePerson } from './whom';

/** Deals, told apart by name and person. One that was won or lost is closed as it was, and its stage asks for nothing. */
export const deals: RecordDef = {
  shown: ['name', 'person', 'company', 'amount', 'stage', 'expectedCloseOn', 'status'],
  sameAs: (values) => samePerson(values, 'name'),
  find: findDeals,
  make,
  change,
};

async function findDeals(
  reading: Reading,
  drafts: readonly RecordDraft[],
): Promise<ReadonlyMap<number, Found>> {
  const whom = await findWhom(reading, drafts);
  const known = await readDealsOf(
    reading,
    [...whom.values()].flatMap((each) => (each.kind === 'found' ? each.contactId : [])),
  );
  const found = new Map<number, Found>();
  for (const { line, values } of drafts) {
    const problem = closingProblem(values, reading.today);
    const on = whom.get(line);
    if (problem !== null) found.set(line, { problem });
    else if (on === undefined) found.set(line, { problem: namesNobody() });
    else if (on.kind === 'found') {
      const deal = known.find(
        (each) => each.contactId === on.contactId && nameKey(each.name) === nameKey(textOf(values, 'name')),
      );
      found.set(line, {
        contactId: on.contactId,
        companyId: on.companyId,
        ...(deal !== undefined && { record: recordOf(deal, values, reading) }),
      });
    } else if (on.kind !== 'coming') found.set(line, { problem: on.problem });
  }
  return found;
}

function closingProblem(values: Values, today: string) {
  const closedOn = textOf(values, 'closedOn');
  if (closedOn > today) return { column: 'closedOn', reason: $localize`lies ahead` };
  const isClosed = ['won', 'lost'].includes(textOf(values, 'status'));
  return closedOn !== '' && !isClosed
    ? { column: 'closedOn', reason: $localize`is a day, and the row does not say whether it was won or lost` }
    : null;
}

type DealRow = Row<
  'deal',
  | 'id'
  | 'name'
  | 'contact_id'
  | 'amount_minor'
  | 'currency'
  | 'expected_close_on'
  | 'stage_id'
  | 'status'
  | 'owner_id'
  | 'win_probability'
> &
  DealPlainColumns & { owner_name: string };

interface KnownDeal {
  readonly row: DealRow;
  readonly contactId: ContactId | null;
  readonly name: string;
  readonly custom: Readonly<Record<string, unknown>>;
}

/** Deals of some people. Relies on deal_contact. */
async function readDealsOf({ db }: Reading, contactIds: readonly ContactId[]): Promise<KnownDeal[]> {
  if (contactIds.length === 0) return [];
  const rows = await db.rows<DealRow>(
    `SELECT d.id, d.name, d.contact_id, d.amount_minor, d.currency, d.expected_close_on, d.stage_id, d.status, d.owner_id, d.win_probability,
            u.name AS owner_name, ${dealPlain.select('d')}
       FROM deal d LEFT JOIN app_user u ON u.id = d.owner_id WHERE d.contact_id IN (:ids) AND d.archived_at IS NULL ORDER BY d.id`,
    { ids: [...new Set(contactIds)].map((id) => bytesOf(id)) },
  );
  if (rows.length === 0) return [];
  const custom = await readCustomValues(
    db,
    rows.map(({ id }) => id),
  );
  return rows.map((row) => ({
    ...{ row, name: row.name, contactId: idOrNull<ContactId>(row.contact_id) },
    custom: custom.get(row.id.toString('hex')) ?? {},
  }));
}

/** An open deal can be changed; one that is closed is known and stays. */
function recordOf(
  { row, name, custom }: KnownDeal,
  values: Values,
  { stages }: Reading,
): NonNullable<Found['record']> {
  const stage = [...stages].find(([, id]) => id === idOf<string>(row.stage_id))?.[0] ?? null;
  return {
    ...{ id: row.id, name, ownerId: idOf<string>(row.owner_id), ownerName: row.owner_name },
    now:
      row.status === 'open'
        ? {
            ...{ amount: wholeNumber(row.amount_minor), stage, expectedCloseOn: row.expected_close_on },
            winProbability:
              row.win_probability === null ? null : Math.round(Number(row.win_probability) * 100),
            ...dealPlain.read(row),
            ...noCustom(values),
            ...customNow(custom),
          }
        : {},
  };
}

const chanceOf = (values: Values) => {
  const percent = numberOf(values, 'winProbability');
  return percent === null ? {} : { winProbability: percent / 100 };
};

const plainOf = (values: Values) =>
  Object.fromEntries(
    dealPlain.keys.flatMap((key) => (textOf(values, key) === '' ? [] : [[key, textOf(values, key)]])),
  );

async function make(w: PersonWork, values: Values, found: Found, reading: Reading): Promise<void> {
  const [firstStage] = reading.stages.values();
  const ownerId = reading.owners.get(textOf(values, 'owner')) ?? w.who.id;
  const status = textOf(values, 'status') || 'open';
  const id = await createDeal(
    w,
    {
      name: textOf(values, 'name'),
      stageId: (reading.stages.get(textOf(values, 'stage')) ?? firstStage) as StageId,
      contactId: found.contactId!,
      amountMinor: numberOf(values, 'amount') ?? 0,
      expectedCloseOn: textOrNull(values, 'expectedCloseOn'),
      ...(textOf(values, 'currency') === '' ? {} : { currency: textOf(values, 'currency') }),
      ...chanceOf(values),
      ...plainOf(values),
      custom: customOf(values) as NonNullable<CreateDeal['custom']>,
      next: { kind: 'none', reason: $localize`from a file` },
    },
    { isByItself: true, ownerId, isUnderWay: true },
  );
  if (status === 'open') await planNext(w, id, ownerId, values, found);
  else await close(w, id, status, values, reading);
}

async function planNext(
  w: PersonWork,
  dealId: DealId,
  ownerId: string,
  values: Values,
  found: Found,
): Promise<void> {
  const [purpose, on] = [textOf(values, 'next'), textOf(values, 'nextOn')];
  if (purpose === '' && on === '') return;
  const { today, calendar } = await ownersDay(w, ownerId as never);
  await insertTask(w, {
    ...{ channel: 'call', minutes: 6, ownerId, dealId, run: null, promisedAt: null, madeBy: w.who.id },
    ...{ contactId: found.contactId ?? null, companyId: found.companyId ?? null },
    purpose: purpose || textOf(values, 'name').slice(0, 200),
    // What was due already is due today.
    dueOn: on > today ? on : onOrAfterWorkingDay(today, calendar),
  });
}

async function close(
  w: PersonWork,
  id: DealId,
  as: string,
  values: Values,
  { today }: Reading,
): Promise<void> {
  const deal = await readDeal(w, id, readAt(w.services, w.who));
  const reason = textOf(values, 'reason');
  await closeDeal(
    w,
    id,
    closeBody.parse({
      ...{ as, version: deal.version, on: textOf(values, 'closedOn') || today },
      reason: reason === '' ? (as === 'lost' ? $localize`from a file` : null) : reason,
      ...(as === 'won' ? { tick: deal.prompts.map((prompt) => prompt.id) } : {}),
    }),
  );
}

async function change(w: PersonWork, id: string, values: Values, reading: Reading): Promise<void> {
  const deal = await readDeal(w, id, readAt(w.services, w.who));
  const stageId = reading.stages.get(textOf(values, 'stage'));
  const amount = numberOf(values, 'amount');
  await changeDeal(
    w,
    id,
    changeBody.parse({
      ...{ version: deal.version, name: deal.name, stageId: stageId ?? deal.stageId },
      amountMinor: amount ?? deal.amountMinor,
      expectedCloseOn: textOrNull(values, 'expectedCloseOn') ?? deal.expectedCloseOn,
      ...(amount !== null && textOf(values, 'currency') !== ''
        ? { currency: textOf(values, 'currency') }
        : {}),
      ...chanceOf(values),
      ...plainOf(values),
      custom: customOf(values),
    }),
  );
}
