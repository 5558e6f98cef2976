import { fakerEN_GB } from '@faker-js/faker';
import type { DealId, Stage } from '@kettle/contract';
import type { WithKeys } from '@kettle/server/platform/database/database';
import { writingAt } from '@kettle/server/platform/work/work';
import { sqlInstant } from '@kettle/server/platform/database/values';
import { insertEntries } from '@kettle/server/records/entries/index';
import { readPipelines } from '@kettle/server/records/pipelines/index';
import { bytesOf, newId } from '@kettle/server/platform/ids';
import type { Made } from './made';
import { momentAgo } from './moments';
import type { Scenario } from './scenario';

const prompt = (text: string, isRequired: boolean) => ({ id: newId<string>(), text, isRequired });
const task = (channel: string, purpose: string, afterDays: number, minutes: number) => ({
  ...{ id: newId<string>(), channel, purpose, afterDays, minutes },
});

/** What the stages of the firm ask for, the past of its deals in them, what it sells, and the parts of some deals. */
export async function writeDealParts(
  tx: WithKeys,
  scenario: Scenario,
  made: Made,
  today: string,
): Promise<void> {
  const { stages } = (await readPipelines(tx))[0]!;
  const shape = async (name: string, needs: readonly string[], brief: object) =>
    tx.change('UPDATE stage SET needs = :needs, brief = :brief WHERE name = :name', {
      name,
      needs: JSON.stringify(needs),
      brief: JSON.stringify(brief),
    });
  await shape('Survey', [], {
    prompts: [prompt('hardness and flow measured', true), prompt('photos of the plant room', false)],
    tasks: [task('visit', 'survey on site', 3, 60), task('email', 'send the survey checklist', 0, 5)],
  });
  await shape('Offer', ['amount', 'decider'], {
    prompts: [],
    tasks: [task('call', 'go through the offer together', 2, 15)],
  });
  await shape('Terms', ['decision'], { prompts: [prompt('service terms explained', true)], tasks: [] });
  const stays = drawStays(scenario, today);
  await writeStays(tx, made, stages, stays);
  await writeHistory(tx, scenario, made, stages, stays);
  await writeProducts(tx);
  await writePartsOfSome(tx, scenario, made);
}

interface Stay {
  readonly stage: number;
  readonly enteredAt: string;
  readonly leftAt: string | null;
}

/** Each deal went through the stages before its own, each for a share of the time; by the deal's place in the scenario. */
function drawStays(scenario: Scenario, today: string): readonly (readonly Stay[])[] {
  const random = fakerEN_GB;
  random.seed(77);
  return scenario.deals.map((deal) => {
    const span = Math.max(deal.stage + 1, deal.madeDaysAgo - deal.movedDaysAgo);
    const cuts = Array.from({ length: deal.stage }, () => random.number.int({ min: 0, max: span })).sort(
      (a, b) => b - a,
    );
    const entered = [span, ...cuts].map((days) => momentAgo(today, deal.movedDaysAgo + days, 700));
    const closedAt = deal.status === 'open' ? null : momentAgo(today, deal.movedDaysAgo, 700);
    return entered.map((enteredAt, stage) => ({ stage, enteredAt, leftAt: entered[stage + 1] ?? closedAt }));
  });
}

async function writeStays(
  tx: WithKeys,
  made: Made,
  stages: readonly Stage[],
  stays: readonly (readonly Stay[])[],
): Promise<void> {
  await tx.change('DELETE FROM stage_stay');
  await tx.change('INSERT INTO stage_stay (deal_id, number, stage_id, entered_at, left_at) VALUES :rows', {
    rows: stays.flatMap((ofDeal, index) =>
      ofDeal.map(({ stage, enteredAt, leftAt }) => [
        bytesOf(made.deals[index]),
        stage + 1,
        bytesOf(stages[stage]!.id),
        sqlInstant(enteredAt),
        sqlInstant(leftAt),
      ]),
    ) as (string | Buffer)[][],
  });
}

/** What the journal says of each deal by itself: made, from stage to stage, won or lost. */
async function writeHistory(
  tx: WithKeys,
  scenario: Scenario,
  made: Made,
  stages: readonly Stage[],
  stays: readonly (readonly Stay[])[],
): Promise<void> {
  const told = scenario.deals.flatMap((deal, index) => {
    const ofDeal = stays[index]!;
    const reason = deal.reason === null ? '' : `: ${deal.reason}`;
    const moves = ofDeal.slice(1).map(({ stage, enteredAt }) => ({
      at: enteredAt,
      body: `${stages[stage - 1]!.name} → ${stages[stage]!.name}`,
    }));
    const closedAt = ofDeal.at(-1)!.leftAt;
    const words = [
      { at: ofDeal[0]!.enteredAt, body: `Deal “${deal.name}” made` },
      ...moves,
      ...(closedAt === null ? [] : [{ at: closedAt, body: `Deal “${deal.name}” ${deal.status}${reason}` }]),
    ];
    return words.map((each) => ({ ...each, deal, dealId: made.deals[index]! }));
  });
  const entries = told.map(({ at, body, deal, dealId }) => {
    const contact = scenario.contacts[deal.contact]!;
    return {
      id: newId<string>(),
      at,
      kind: 'system' as const,
      direction: null,
      outcomeId: null,
      outcomeLabel: null,
      counts: 'none' as const,
      minutes: null,
      body,
      userId: made.users[contact.owner ?? 0]!,
      contactId: made.contacts[deal.contact]!,
      companyId: made.companies[contact.company]!,
      dealId,
      taskId: null,
      runId: null,
    };
  });
  await insertEntries(writingAt(tx, entries.at(-1)!.at), entries);
}

const products: readonly (readonly [string, number, 'once' | 'yearly'])[] = [
  ['Softener, single column', 385_000, 'once'],
  ['Softener, twin column', 640_000, 'once'],
  ['Reverse osmosis unit', 720_000, 'once'],
  ['Dosing set', 178_000, 'once'],
  ['Filtration for a bar', 94_000, 'once'],
  ['Service, twice a year', 48_000, 'yearly'],
  ['Salt and reagents', 31_000, 'yearly'],
];

async function writeProducts(tx: WithKeys): Promise<void> {
  await tx.change('INSERT INTO product (id, name, price_minor, billing) VALUES :rows', {
    rows: products.map(([name, price, billing]) => [bytesOf(newId<string>()), name, price, billing]),
  });
}

/** Who decides, and against whom: for the open deals that have come to an offer; lines for one of the story. */
async function writePartsOfSome(tx: WithKeys, scenario: Scenario, made: Made): Promise<void> {
  const late = scenario.deals.flatMap((deal, index) =>
    deal.status === 'open' && deal.stage >= 2 ? [{ deal, id: made.deals[index]! }] : [],
  );
  await tx.change('INSERT INTO deal_person (deal_id, contact_id, role) VALUES :rows', {
    rows: late.map(({ deal, id }) => [bytesOf(id), bytesOf(made.contacts[deal.contact]), 'decides']),
  });
  const competitors = ['Calder Softening', 'Brightwell Filters', 'Lowmoor Water'];
  await tx.change('INSERT INTO deal_competitor (deal_id, name) VALUES :rows', {
    rows: late
      .filter((_, index) => index % 2 === 0)
      .map(({ id }, index) => [bytesOf(id), competitors[index % competitors.length]!]),
  });
  await tx.change(
    "UPDATE deal SET lost_to = ELT(1 + MOD(amount_minor, 3), 'Calder Softening', 'Brightwell Filters', 'Lowmoor Water') WHERE status = 'lost' AND close_reason = 'price'",
  );
  const story = scenario.deals.findIndex(({ name }) => name === 'Penrow Laundry: second softener');
  await writeLines(tx, made.deals[story]!);
}

async function writeLines(tx: WithKeys, dealId: DealId): Promise<void> {
  const line = (
    position: number,
    name: string,
    quantity: number,
    price: number,
    discount: number,
    billing: string,
  ) => [
    ...[bytesOf(newId<string>()), bytesOf(dealId), position, name],
    ...[quantity, price, discount, billing],
  ];
  await tx.change(
    'INSERT INTO deal_line (id, deal_id, position, name, quantity, price_minor, discount_percent, billing) VALUES :rows',
    {
      rows: [
        line(0, 'Softener, twin column', 1, 640_000, 0, 'once'),
        line(1, 'Dosing set', 1, 292_000, 0, 'once'),
        line(2, 'Service, twice a year', 1, 48_000, 0, 'yearly'),
      ],
    },
  );
}
