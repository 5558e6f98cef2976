import type { Channel, RunPage, RunRow, RunTable } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { instantOf, wholeNumber } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf } from '../../platform/ids';
import { reachParameters, withinReach } from '../../records/rights/index';
import type { SignedIn } from '../../records/users/index';
import type { Row, Tables } from '../../platform/database/schema.generated';

interface RunTableRow
  extends
    Row<
      'run',
      | 'id'
      | 'cadence_id'
      | 'status'
      | 'step'
      | 'next_on'
      | 'paused_until'
      | 'exit_reason'
      | 'started_at'
      | 'version'
      | 'contact_id'
    >,
    Row<'contact', 'company_name'>,
    Row<'cadence_version', 'number'> {
  cadence_name: Tables['cadence']['name'];
  owner_name: Tables['app_user']['name'];
  steps: number;
  contact_name: string;
  channel: Channel | null;
  sign: string | null;
}

const states: Readonly<Record<RunTable['status'], string>> = {
  active: "r.status IN ('running', 'paused')",
  running: "r.status = 'running'",
  paused: "r.status = 'paused'",
  ended: "r.status IN ('finished', 'stopped')",
  all: 'TRUE',
};

/** Runs of a cadence, soonest next step first; relies on run_cadence. */
export async function readRunTable(
  db: Queryable,
  who: SignedIn,
  cadenceId: string,
  asked: RunTable,
): Promise<RunPage> {
  const mine = `AND ${asked.owner === 'mine' ? 'r.owner_id = :who' : withinReach(who, 'run', 'r')}`;
  const step = asked.step === undefined ? '' : 'AND r.step = :step';
  const parameters = {
    ...reachParameters(who),
    cadence: bytesOf(cadenceId),
    who: bytesOf(who.id),
    step: asked.step ?? null,
    limit: asked.limit,
  };
  const where = `r.cadence_id = :cadence ${mine} ${step} AND ${states[asked.status]}`;
  const rows = await db.rows<RunTableRow>(
    `SELECT r.id, r.cadence_id, ca.name AS cadence_name, r.status, r.step, JSON_LENGTH(v.definition, '$.steps') AS steps, r.next_on,
            r.paused_until, r.exit_reason, r.started_at, r.version, r.contact_id, c.display_name AS contact_name, c.company_name,
            u.name AS owner_name, v.number,
            (SELECT t.channel FROM task t WHERE t.run_id = r.id AND t.state = 'open' ORDER BY t.due_on, t.id LIMIT 1) AS channel,
            (SELECT s.words FROM stirring s WHERE s.contact_id = r.contact_id ORDER BY s.at DESC, s.id DESC LIMIT 1) AS sign
       FROM run r JOIN cadence ca ON ca.id = r.cadence_id JOIN cadence_version v ON v.id = r.cadence_version_id
       JOIN contact c ON c.id = r.contact_id JOIN app_user u ON u.id = r.owner_id
      WHERE ${where} ORDER BY r.next_on IS NULL, r.next_on, c.sort_name, r.id LIMIT :limit`,
    parameters,
  );
  const standing = await db.rows<Row<'run', 'step'> & { n: string }>(
    `SELECT r.step, COUNT(*) AS n FROM run r
      WHERE r.cadence_id = :cadence ${mine} AND ${states.active} GROUP BY r.step ORDER BY r.step`,
    parameters,
  );
  const [current] = await db.rows<{ steps: number }>(
    `SELECT JSON_LENGTH(v.definition, '$.steps') AS steps FROM cadence ca
      JOIN cadence_version v ON v.id = ca.current_version_id WHERE ca.id = :cadence`,
    parameters,
  );
  if (!current) throw new Problem('not-found');
  const [all] = await db.rows<{ n: string; shown: string }>(
    `SELECT COUNT(*) AS n, SUM(${where}) AS shown FROM run r WHERE r.cadence_id = :cadence`,
    parameters,
  );
  const atStep = Array.from(
    { length: Math.max(current.steps, ...standing.map((each) => each.step + 1)) },
    () => 0,
  );
  for (const each of standing) atStep[each.step] = wholeNumber(each.n);
  return {
    rows: rows.map(runRowOf),
    atStep,
    hidden: wholeNumber(all?.n ?? 0) - wholeNumber(all?.shown ?? 0),
  };
}

function runRowOf(row: RunTableRow): RunRow {
  return {
    id: idOf(row.id),
    cadenceId: idOf(row.cadence_id),
    cadenceName: row.cadence_name,
    status: row.status,
    step: Math.min(row.step + 1, row.steps),
    steps: row.steps,
    nextOn: row.next_on,
    pausedUntil: row.paused_until,
    exitReason: row.exit_reason,
    startedAt: instantOf(row.started_at),
    version: row.version,
    contactId: idOf(row.contact_id),
    contactName: row.contact_name,
    companyName: row.company_name,
    ownerName: row.owner_name,
    channel: row.channel,
    versionNumber: row.number,
    lastSign: row.sign,
  };
}
