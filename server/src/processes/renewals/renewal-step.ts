import type { RuleId } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { idOf } from '../../platform/ids';

/**
 * The rule by which renewals begin: one of an admin's that is on, waits for the lead day and begins the renewal. Null where the step that
 * ships does it: there is none, or whoever wrote it has left or is no admin any more, so that no agreement is forgotten with them. A
 * manager's rule reaches their team alone and replaces nothing.
 */
export async function readRenewalStep(
  db: Queryable,
): Promise<{ readonly ruleId: RuleId; readonly ruleName: string } | null> {
  const rows = await db.rows<Row<'house_rule', 'id' | 'name' | 'does'>>(
    `SELECT r.id, r.name, r.does FROM house_rule r JOIN house_rule_event e ON e.rule_id = r.id JOIN app_user u ON u.id = r.user_id
      WHERE e.kind = 'renewal-due' AND r.is_on = 1 AND r.removed_at IS NULL AND u.role = 'admin' AND u.deactivated_at IS NULL
      ORDER BY r.created_at, r.id`,
  );
  const row = rows.find(({ does }) => begins(JSON.parse(does)));
  return row === undefined ? null : { ruleId: idOf(row.id), ruleName: row.name };
}

const begins = (acts: unknown) =>
  Array.isArray(acts) && acts.some((act: { kind?: unknown }) => act.kind === 'renewal');
