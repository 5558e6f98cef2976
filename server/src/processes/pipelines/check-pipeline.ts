import type { Instant, PipelineCheck, SavePipeline, Stage, StageId } from '@kettle/contract';
import { missingFacts, stageLike, stalledDays, weightedMinor } from '@kettle/core/deals';
import type { Queryable } from '../../platform/database/database';
import { instantOf, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import { readCustomValues } from '../../records/fields/index';
import { mergePipeline } from './merge-pipeline';
import { readPipeline } from '../../records/pipelines/index';
import type { Row } from '../../platform/database/schema.generated';

interface DealFacts {
  readonly id: Buffer;
  readonly stageId: string;
  readonly homeMinor: number;
  readonly ownProbability: number | null;
  readonly movedAt: Instant;
  readonly ownerZone: string;
  readonly isOpen: boolean;
  readonly known: Parameters<typeof missingFacts>[1];
}

/** What saving a pipeline so would do to the deals in it; nothing is written. @throws Problem `not-found`, `stale` */
export async function checkPipeline(
  db: Queryable,
  id: string,
  asked: SavePipeline,
  now: Instant,
): Promise<PipelineCheck> {
  const before = await readPipeline(db, id);
  const body = await mergePipeline(db, asked, before);
  const deals = await readDealFacts(db, before.stages);
  const homes = new Map(body.homes.map(({ from, to }) => [from, to]));
  const stays = new Set(body.stages.map((stage) => stage.id));
  const going = before.stages.filter((stage) => !stays.has(stage.id));
  const after = (deal: DealFacts) =>
    stays.has(deal.stageId as StageId) ? deal.stageId : homes.get(deal.stageId as StageId);
  const kept = body.stages.flatMap((stage) => (stage.id === null ? [] : [{ ...stage, id: stage.id }]));
  return {
    stages: body.stages.map((stage) => {
      const was = before.stages.find((each) => each.id === stage.id);
      const open = deals.filter((deal) => deal.isOpen);
      const inBefore = was ? open.filter((deal) => deal.stageId === was.id) : [];
      const inAfter = stage.id === null ? [] : open.filter((deal) => after(deal) === stage.id);
      return {
        stageId: stage.id,
        name: stage.name,
        openDeals: inAfter.length,
        weightedBeforeMinor: was ? weightedOf(inBefore, was) : 0,
        weightedAfterMinor: weightedOf(inAfter, stage),
        stalledBefore: was ? stalledOf(inBefore, was, now) : 0,
        stalledAfter: stalledOf(inAfter, stage, now),
        lacking: inAfter.filter((deal) => missingFacts(stage.needs, deal.known).length > 0).length,
      };
    }),
    going: going.map((stage) => ({
      stageId: stage.id,
      name: stage.name,
      deals: deals.filter((deal) => deal.stageId === stage.id).length,
      proposedHome: homes.get(stage.id) ?? stageLike(stage, kept)?.id ?? null,
    })),
  };
}

type Rule = Pick<Stage, 'winProbability' | 'patienceDays'>;

const weightedOf = (deals: readonly DealFacts[], { winProbability }: Rule) =>
  deals.reduce((sum, deal) => sum + weightedMinor(deal.homeMinor, deal.ownProbability, winProbability), 0);

const stalledOf = (deals: readonly DealFacts[], { patienceDays }: Rule, now: Instant) =>
  deals.filter((deal) => stalledDays({ ...deal, patienceDays }, now) > 0).length;

async function readDealFacts(db: Queryable, stages: readonly Stage[]): Promise<DealFacts[]> {
  const rows = await db.rows<
    Row<
      'deal',
      | 'id'
      | 'stage_id'
      | 'status'
      | 'amount_minor'
      | 'home_minor'
      | 'win_probability'
      | 'expected_close_on'
      | 'decision_on'
    > & {
      moved_at: string;
      owner_zone: string;
      line_count: string | number;
      roles: string | null;
      competitors: string | null;
    }
  >(
    `SELECT d.id, d.stage_id, d.status, d.amount_minor, d.home_minor, d.win_probability, d.moved_at, u.zone AS owner_zone, d.expected_close_on, d.decision_on,
            (SELECT COUNT(*) FROM deal_line l WHERE l.deal_id = d.id) AS line_count,
            (SELECT GROUP_CONCAT(DISTINCT p.role) FROM deal_person p WHERE p.deal_id = d.id) AS roles,
            (SELECT MIN(k.name) FROM deal_competitor k WHERE k.deal_id = d.id) AS competitors
       FROM deal d JOIN app_user u ON u.id = d.owner_id WHERE d.stage_id IN (:stages) AND d.status IN ('open', 'parked') ORDER BY d.id`,
    { stages: stages.map(({ id }) => bytesOf(id)) },
  );
  const custom = await readCustomValues(
    db,
    rows.map(({ id }) => id),
  );
  return rows.map((row) => ({
    id: row.id,
    stageId: idOf<string>(row.stage_id),
    homeMinor: wholeNumber(row.home_minor),
    ownProbability: row.win_probability === null ? null : Number(row.win_probability),
    movedAt: instantOf(row.moved_at),
    ownerZone: row.owner_zone,
    isOpen: row.status === 'open',
    known: {
      amountMinor: wholeNumber(row.amount_minor),
      lineCount: wholeNumber(row.line_count),
      expectedCloseOn: row.expected_close_on,
      decisionOn: row.decision_on,
      roles: row.roles?.split(',') ?? [],
      competitors: row.competitors === null ? [] : [row.competitors],
      custom: custom.get(row.id.toString('hex')) ?? {},
    },
  }));
}
