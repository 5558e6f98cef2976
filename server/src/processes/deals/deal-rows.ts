import type { AgreementId, Deal, DealGridRow, DealRow, Stage, TouchCount, UserId } from '@kettle/contract';
import { dealPlain, type DealPlainColumns } from '@kettle/contract/base/catalogues';
import {
  chanceOf,
  completionOf,
  lineMinor,
  placeOf,
  stalledDays,
  tetherStateOf,
  weightedMinor,
} from '@kettle/core/deals';
import type { Queryable, SqlParameters } from '../../platform/database/database';
import { instantOf, instantOrNull, wholeNumber } from '../../platform/database/values';
import { idOfHex } from '../../platform/work/written';
import { bytesOf, idOf, idOrNull, type IdBytes } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import { tetherOf } from '../../records/contacts/index';
import { readCustomOf, readCustomValues } from '../../records/fields/index';
import { readAllStages } from '../../records/pipelines/index';
import { readRenewed } from '../agreements/index';
import type { ReadAt } from '../../records/users/index';
import type { Row, Tables } from '../../platform/database/schema.generated';

interface DealColumns
  extends
    Row<
      'deal',
      | 'id'
      | 'name'
      | 'status'
      | 'company_id'
      | 'contact_id'
      | 'stage_id'
      | 'notches'
      | 'amount_minor'
      | 'currency'
      | 'home_minor'
      | 'expected_close_on'
      | 'owner_id'
      | 'last_touch_at'
      | 'last_touch_kind'
      | 'next_step_on'
      | 'next_step_channel'
      | 'next_step_at'
      | 'closed_on'
      | 'archived_at'
      | 'version'
    >,
    Row<'stage', 'patience_days'>,
    Pick<DealPlainColumns, 'type' | 'priority'> {
  contact_name: Tables['contact']['display_name'];
  own_probability: Tables['deal']['win_probability'];
  stage_probability: Tables['stage']['win_probability'];
  owner_name: Tables['app_user']['name'];
  owner_zone: Tables['app_user']['zone'];
  company_name: string | null;
  moved_at: string;
  last_touch_counts: TouchCount | null;
  team_ids: string | null;
}

interface DetailColumns
  extends
    DealColumns,
    Row<
      'deal',
      | 'stage_since'
      | 'created_at'
      | 'parent_id'
      | 'lead_id'
      | 'origin_id'
      | 'wake_on'
      | 'close_reason'
      | 'close_words'
      | 'lost_to'
    >,
    DealPlainColumns {
  parent_name: string | null;
  origin_name: string | null;
  agreement_id: IdBytes<AgreementId> | null;
  brief_tasks_open: string;
}

const rowColumns = `d.id, d.name, d.status, d.company_id, co.name AS company_name, d.contact_id,
    c.display_name AS contact_name, d.stage_id, d.notches, d.amount_minor, d.currency, d.home_minor,
    d.win_probability AS own_probability, s.win_probability AS stage_probability, s.patience_days, d.expected_close_on,
    d.type, d.priority, d.owner_id, u.name AS owner_name, u.zone AS owner_zone, d.moved_at, d.last_touch_at, d.last_touch_kind,
    NULL AS last_touch_counts, d.next_step_on, d.next_step_channel, d.next_step_at, d.closed_on, d.archived_at, d.version,
    (SELECT GROUP_CONCAT(LOWER(HEX(t.user_id)) ORDER BY t.user_id) FROM deal_colleague t WHERE t.deal_id = d.id) AS team_ids`;

const joined = `FROM deal d
  JOIN stage s ON s.id = d.stage_id
  JOIN app_user u ON u.id = d.owner_id
  LEFT JOIN company co ON co.id = d.company_id
  LEFT JOIN contact c ON c.id = d.contact_id`;

/** The statement behind lanes and lists: the bench asks it bare. */
export const dealRowsSelect = `SELECT ${rowColumns} ${joined}`;

function dealRowOf(row: DealColumns, { today, now }: ReadAt): DealRow {
  const own = row.own_probability === null ? null : Number(row.own_probability);
  const stage = Number(row.stage_probability);
  const chance = chanceOf({ status: row.status, own, stage });
  const homeMinor = row.home_minor === null ? null : wholeNumber(row.home_minor);
  return {
    id: idOf(row.id),
    name: row.name,
    status: row.status,
    companyId: idOrNull(row.company_id),
    companyName: row.company_name,
    contactId: idOrNull(row.contact_id),
    contactName: row.contact_name,
    stageId: idOf(row.stage_id),
    notches: row.notches,
    amountMinor: wholeNumber(row.amount_minor),
    currency: row.currency,
    homeMinor,
    winProbability: chance,
    weightedMinor: weightedMinor(homeMinor ?? 0, chance, stage),
    expectedCloseOn: row.expected_close_on,
    type: row.type,
    priority: row.priority,
    ownerId: idOf(row.owner_id),
    ownerName: row.owner_name,
    teamIds: (row.team_ids ?? '')
      .split(',')
      .filter(Boolean)
      .map((hex) => idOfHex<UserId>(hex)),
    tether: tetherOf(row),
    tetherState: tetherStateOf(row.next_step_on, today),
    stalledDays: stalledDays(
      { movedAt: instantOf(row.moved_at), patienceDays: row.patience_days, ownerZone: row.owner_zone },
      now,
    ),
    closedOn: row.closed_on,
    archivedAt: instantOrNull(row.archived_at),
    version: row.version,
  };
}

const mostRows = 20_000;

/** Deals that meet a condition on `deal d`, in the order a rep reads them: stage, next step, close date. */
export async function readDealRows(
  db: Queryable,
  where: string,
  parameters: SqlParameters,
  at: ReadAt,
): Promise<DealRow[]> {
  const rows = await db.rows<DealColumns>(
    `${dealRowsSelect} WHERE ${where}
      ORDER BY s.position, d.next_step_on IS NULL DESC, d.next_step_on, d.expected_close_on, d.id LIMIT ${mostRows}`,
    parameters,
  );
  return rows.map((row) => dealRowOf(row, at));
}

/** Deals by id, in the order of the ids. */
export async function readDealRowsOf(db: Queryable, ids: readonly Buffer[], at: ReadAt): Promise<DealRow[]> {
  if (ids.length === 0) return [];
  const rows = await db.rows<DealColumns>(`${dealRowsSelect} WHERE d.id IN (:ids)`, { ids: [...ids] });
  const found = new Map(rows.map((row) => [row.id.toString('hex'), dealRowOf(row, at)]));
  return ids.flatMap((id) => found.get(id.toString('hex')) ?? []);
}

interface GridColumns
  extends
    DealColumns,
    Row<'deal', 'stage_since' | 'created_at' | 'close_reason'>,
    Row<'stage', 'pipeline_id'>,
    DealPlainColumns {
  competitors: string | null;
}

/** Deals as the list shows them, by id, in the order of the ids. */
export async function readDealGridRows(
  db: Queryable,
  ids: readonly Buffer[],
  at: ReadAt,
): Promise<DealGridRow[]> {
  if (ids.length === 0) return [];
  const [rows, custom, stages] = await Promise.all([
    db.rows<GridColumns>(
      `SELECT ${rowColumns}, ${dealPlain.select('d')}, s.pipeline_id, d.stage_since, d.created_at, d.close_reason,
              (SELECT JSON_ARRAYAGG(k.name ORDER BY k.name) FROM deal_competitor k WHERE k.deal_id = d.id) AS competitors
         ${joined} WHERE d.id IN (:ids)`,
      { ids: [...ids] },
    ),
    readCustomValues(db, ids),
    readAllStages(db),
  ]);
  const complete = completionBy(stages);
  const found = new Map(
    rows.map((row): [string, DealGridRow] => [
      row.id.toString('hex'),
      {
        ...dealRowOf(row, at),
        ...dealPlain.read(row),
        completion: complete(row),
        pipelineId: idOf(row.pipeline_id),
        createdAt: instantOf(row.created_at),
        stageSince: instantOf(row.stage_since),
        closeReason: row.close_reason,
        competitors: row.competitors === null ? [] : (JSON.parse(row.competitors) as string[]),
        custom: custom.get(row.id.toString('hex')) ?? {},
      },
    ]),
  );
  return ids.flatMap((id) => found.get(id.toString('hex')) ?? []);
}

/** How far along its pipeline a deal is. */
function completionBy(stages: ReadonlyMap<string, Stage>) {
  const byPipeline = new Map<string, Stage[]>();
  for (const stage of stages.values())
    byPipeline.set(stage.pipelineId, [...(byPipeline.get(stage.pipelineId) ?? []), stage]);
  return ({ stage_id, status, notches }: Pick<DealColumns, 'stage_id' | 'status' | 'notches'>): number => {
    const stageId = idOf<string>(stage_id);
    const own = byPipeline.get(stages.get(stageId)?.pipelineId ?? '') ?? [];
    return completionOf({ status, notches, ...placeOf(stageId, own) });
  };
}

/** @throws Problem `not-found` */
export async function readDeal(db: Queryable, id: string, at: ReadAt): Promise<Deal> {
  const key = { id: bytesOf(id) };
  const [[row], children, handedOn, competitors, team, people, lines, ticks, custom, stages, renews] =
    await Promise.all([
      db.rows<DetailColumns>(
        `SELECT ${rowColumns}, d.stage_since, d.created_at, ${dealPlain.select('d')}, d.parent_id, pa.name AS parent_name, d.lead_id, d.origin_id, og.name AS origin_name,
              d.wake_on, d.close_reason, d.close_words, d.lost_to,
              (SELECT a.id FROM agreement a WHERE a.deal_id = d.id ORDER BY a.id DESC LIMIT 1) AS agreement_id,
              (SELECT COUNT(*) FROM brief_task b JOIN task t ON t.id = b.task_id
                WHERE b.deal_id = d.id AND b.stage_id = d.stage_id AND t.state = 'open') AS brief_tasks_open
         ${joined} LEFT JOIN deal pa ON pa.id = d.parent_id LEFT JOIN deal og ON og.id = d.origin_id WHERE d.id = :id`,
        key,
      ),
      db.rows<Row<'deal', 'id' | 'name' | 'status'>>(
        'SELECT id, name, status FROM deal WHERE parent_id = :id ORDER BY created_at, id LIMIT 200',
        key,
      ),
      db.rows<Row<'deal', 'id' | 'name' | 'status'>>(
        'SELECT id, name, status FROM deal WHERE origin_id = :id ORDER BY created_at, id LIMIT 20',
        key,
      ),
      db.rows<Row<'deal_competitor', 'name'>>(
        'SELECT name FROM deal_competitor WHERE deal_id = :id ORDER BY name',
        key,
      ),
      db.rows<Row<'app_user', 'id' | 'name'>>(
        `SELECT u.id, u.name FROM deal_colleague t JOIN app_user u ON u.id = t.user_id WHERE t.deal_id = :id ORDER BY u.name, u.id`,
        key,
      ),
      db.rows<Row<'deal_person', 'contact_id' | 'role'> & { name: string }>(
        `SELECT p.contact_id, c.display_name AS name, p.role FROM deal_person p JOIN contact c ON c.id = p.contact_id
        WHERE p.deal_id = :id ORDER BY p.role, c.sort_name, c.id`,
        key,
      ),
      readLines(db, id),
      db.rows<Row<'prompt_tick', 'prompt_id'>>(
        'SELECT prompt_id FROM prompt_tick WHERE deal_id = :id ORDER BY prompt_id',
        key,
      ),
      readCustomOf(db, key),
      readAllStages(db),
      readRenewed(db, id),
    ]);
  if (!row) throw new Problem('not-found');
  const ticked = new Set(ticks.map((tick) => idOf<string>(tick.prompt_id)));
  return {
    ...dealRowOf(row, at),
    completion: completionBy(stages)(row),
    createdAt: instantOf(row.created_at),
    stageSince: instantOf(row.stage_since),
    ownProbability: row.own_probability === null ? null : Number(row.own_probability),
    ...dealPlain.read(row),
    parent: row.parent_id === null ? null : { id: idOf(row.parent_id), name: row.parent_name ?? '' },
    children: children.map((child) => ({ id: idOf(child.id), name: child.name, status: child.status })),
    leadId: idOrNull(row.lead_id),
    origin: row.origin_id === null ? null : { id: idOf(row.origin_id), name: row.origin_name ?? '' },
    handedOn: handedOn.map(({ id: each, name, status }) => ({ id: idOf(each), name, status })),
    competitors: competitors.map(({ name }) => name),
    team: team.map((each) => ({ id: idOf(each.id), name: each.name })),
    people: people.map((each) => ({ contactId: idOf(each.contact_id), name: each.name, role: each.role })),
    lines,
    custom,
    prompts: (stages.get(idOf<string>(row.stage_id))?.brief.prompts ?? []).map((prompt) => ({
      ...prompt,
      isTicked: ticked.has(prompt.id),
    })),
    briefTasksOpen: wholeNumber(row.brief_tasks_open),
    wakeOn: row.wake_on,
    closeReason: row.close_reason,
    closeWords: row.close_words,
    lostTo: row.lost_to,
    agreementId: idOrNull(row.agreement_id),
    renews,
  };
}

/** Product lines in their order. */
async function readLines(db: Queryable, dealId: string): Promise<Deal['lines']> {
  const rows = await db.rows<
    Row<
      'deal_line',
      'id' | 'product_id' | 'name' | 'quantity' | 'price_minor' | 'discount_percent' | 'billing'
    >
  >(
    `SELECT id, product_id, name, quantity, price_minor, discount_percent, billing FROM deal_line
      WHERE deal_id = :id ORDER BY position, id`,
    { id: bytesOf(dealId) },
  );
  return rows.map((row) => {
    const line = {
      quantity: Number(row.quantity),
      priceMinor: wholeNumber(row.price_minor),
      discountPercent: Number(row.discount_percent),
      billing: row.billing,
    };
    const productId = idOrNull<NonNullable<Deal['lines'][number]['productId']>>(row.product_id);
    return { id: idOf<string>(row.id), productId, name: row.name, ...line, totalMinor: lineMinor(line) };
  });
}
