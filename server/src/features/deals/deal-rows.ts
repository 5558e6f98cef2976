import type { Channel, Deal, DealRow, Pipeline, TouchCount } from '@kettle/contract';
import { stalledDays, tetherStateOf, weightedMinor } from '@kettle/core/deals';
import type { Queryable, SqlParameters } from '../../db/database';
import { instantOf, wholeNumber } from '../../db/values';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../ids';
import { Problem } from '../../http/problem';
import { tetherOf } from '../people/contact-rows';

interface DealColumns {
  id: IdBytes;
  name: string;
  status: DealRow['status'];
  company_id: IdBytes | null;
  company_name: string | null;
  contact_id: IdBytes | null;
  contact_name: string | null;
  stage_id: IdBytes;
  amount_minor: string | number;
  currency: string;
  own_probability: string | null;
  stage_probability: string;
  patience_days: number;
  expected_close_on: string | null;
  owner_id: IdBytes;
  owner_name: string;
  moved_at: string;
  stage_since: string;
  created_at: string;
  last_touch_at: string | null;
  last_touch_kind: string | null;
  last_touch_counts: TouchCount | null;
  next_step_on: string | null;
  next_step_channel: Channel | null;
  wake_on: string | null;
  close_reason: string | null;
  version: number;
}

const select = `SELECT d.id, d.name, d.status, d.company_id, co.name AS company_name, d.contact_id,
    c.display_name AS contact_name, d.stage_id, d.amount_minor, d.currency,
    d.win_probability AS own_probability, s.win_probability AS stage_probability, s.patience_days, d.expected_close_on,
    d.owner_id, u.name AS owner_name, d.moved_at, d.stage_since, d.created_at, d.last_touch_at, d.last_touch_kind,
    NULL AS last_touch_counts, d.next_step_on, d.next_step_channel, d.wake_on, d.close_reason, d.version
  FROM deal d
  JOIN stage s ON s.id = d.stage_id
  JOIN app_user u ON u.id = d.owner_id
  LEFT JOIN company co ON co.id = d.company_id
  LEFT JOIN contact c ON c.id = d.contact_id`;

function dealRowOf(row: DealColumns, today: string): DealRow {
  const own = row.own_probability === null ? null : Number(row.own_probability);
  const stage = Number(row.stage_probability);
  const amountMinor = wholeNumber(row.amount_minor);
  return {
    id: idOf(row.id),
    name: row.name,
    status: row.status,
    companyId: idOrNull(row.company_id),
    companyName: row.company_name,
    contactId: idOrNull(row.contact_id),
    contactName: row.contact_name,
    stageId: idOf(row.stage_id),
    amountMinor,
    currency: row.currency,
    winProbability: own ?? stage,
    weightedMinor: weightedMinor(amountMinor, own, stage),
    expectedCloseOn: row.expected_close_on,
    ownerId: idOf(row.owner_id),
    ownerName: row.owner_name,
    tether: tetherOf(row),
    tetherState: tetherStateOf(row.next_step_on, today),
    stalledDays: stalledDays(row.moved_at.slice(0, 10), row.patience_days, today),
    version: row.version,
  };
}

/** Deals that meet a condition on `deal d`, in the order a rep reads them: stage, next step, close date. */
export async function readDealRows(
  db: Queryable,
  where: string,
  parameters: SqlParameters,
  today: string,
): Promise<DealRow[]> {
  const rows = await db.rows<DealColumns>(
    `${select} WHERE ${where}
      ORDER BY s.position, d.next_step_on IS NULL DESC, d.next_step_on, d.expected_close_on, d.id LIMIT 2000`,
    parameters,
  );
  return rows.map((row) => dealRowOf(row, today));
}

/** @throws Problem `not-found` */
export async function readDeal(db: Queryable, id: string, today: string): Promise<Deal> {
  const [row] = await db.rows<DealColumns>(`${select} WHERE d.id = :id`, { id: bytesOf(id) });
  if (!row) throw new Problem('not-found');
  return {
    ...dealRowOf(row, today),
    createdAt: instantOf(row.created_at),
    stageSince: instantOf(row.stage_since),
    ownProbability: row.own_probability === null ? null : Number(row.own_probability),
    wakeOn: row.wake_on,
    closeReason: row.close_reason,
  };
}

export async function readPipelines(db: Queryable): Promise<Pipeline[]> {
  const rows = await db.rows<{
    pipeline_id: IdBytes;
    pipeline_name: string;
    id: IdBytes;
    name: string;
    win_probability: string;
    patience_days: number;
    position: number;
  }>(
    `SELECT p.id AS pipeline_id, p.name AS pipeline_name, s.id, s.name, s.win_probability, s.patience_days, s.position
       FROM pipeline p JOIN stage s ON s.pipeline_id = p.id ORDER BY p.position, p.id, s.position, s.id`,
  );
  const pipelines = new Map<string, Pipeline>();
  for (const row of rows) {
    const id = idOf<Pipeline['id']>(row.pipeline_id);
    const pipeline = pipelines.get(id) ?? { id, name: row.pipeline_name, stages: [] };
    pipelines.set(id, pipeline);
    pipeline.stages.push({
      id: idOf(row.id),
      pipelineId: id,
      name: row.name,
      winProbability: Number(row.win_probability),
      patienceDays: row.patience_days,
      position: row.position,
    });
  }
  return [...pipelines.values()];
}
