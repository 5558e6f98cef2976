import type { FilterGroup, RuleAct, RuleBody, RuleId, RuleSubject, RuleWhen, UserId } from '@kettle/contract';
import { filterGroup, hookEvents, ruleAct, ruleWhen } from '@kettle/contract';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOrNull, jsonOf } from '../../platform/database/values';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';

/** A rule as it is kept. */
export interface StoredRule {
  readonly id: RuleId;
  readonly name: string;
  readonly subject: RuleSubject;
  readonly when: RuleWhen;
  readonly if: FilterGroup | null;
  readonly then: readonly RuleAct[];
  readonly isOn: boolean;
  readonly onSince: string | null;
  readonly missed: 'catch-up' | 'skip';
  readonly perDay: number;
  readonly userId: UserId;
  readonly lookedOn: string | null;
  readonly version: number;
}

type RuleRow = Row<
  'house_rule',
  | 'id'
  | 'name'
  | 'subject'
  | 'is_on'
  | 'on_since'
  | 'missed'
  | 'per_day'
  | 'user_id'
  | 'looked_on'
  | 'version'
> & { readonly waits_for: unknown; readonly asks: unknown; readonly does: unknown };

const columns =
  'r.id, r.name, r.subject, r.waits_for, r.asks, r.does, r.is_on, r.on_since, r.missed, r.per_day, r.user_id, r.looked_on, r.version';

const acts = z.array(ruleAct);

function ruleOf(row: RuleRow): StoredRule {
  return {
    ...{ id: idOf(row.id), name: row.name, subject: row.subject },
    when: ruleWhen.parse(jsonOf(row.waits_for)),
    if: row.asks === null ? null : filterGroup.parse(jsonOf(row.asks)),
    then: acts.parse(jsonOf(row.does)),
    ...{ isOn: row.is_on === 1, onSince: instantOrNull(row.on_since), missed: row.missed },
    ...{ perDay: row.per_day, userId: idOf(row.user_id), lookedOn: row.looked_on, version: row.version },
  };
}

/** Rules that were not removed, oldest first. */
export async function readRules(db: Queryable): Promise<StoredRule[]> {
  const rows = await db.rows<RuleRow>(
    `SELECT ${columns} FROM house_rule r WHERE r.removed_at IS NULL ORDER BY r.created_at, r.id`,
  );
  return rows.map(ruleOf);
}

/** Null when it was removed. */
export async function findRule(db: Queryable, id: string, isLocked = false): Promise<StoredRule | null> {
  const [row] = await db.rows<RuleRow>(
    `SELECT ${columns} FROM house_rule r WHERE r.id = :id AND r.removed_at IS NULL${isLocked ? ' FOR UPDATE' : ''}`,
    { id: bytesOf(id) },
  );
  return row === undefined ? null : ruleOf(row);
}

/** Whoever has left does nothing any more, by their rules neither; an admin who changes one takes it over. */
const isAtWork =
  'r.is_on = 1 AND r.removed_at IS NULL AND EXISTS (SELECT 1 FROM app_user u WHERE u.id = r.user_id AND u.deactivated_at IS NULL)';

/** Rules that are on and wait for one of some events. */
export async function readWaiting(
  db: Queryable,
  events: readonly { readonly topic: string; readonly kind: string }[],
): Promise<readonly StoredRule[]> {
  const heard = [...new Set(events.map(({ topic, kind }) => `${topic} ${kind}`))];
  if (heard.length === 0) return [];
  const rows = await db.rows<RuleRow>(
    `SELECT ${columns} FROM house_rule r JOIN house_rule_event e ON e.rule_id = r.id
      WHERE ${isAtWork} AND CONCAT(e.topic, ' ', e.kind) IN (:heard) ORDER BY r.created_at, r.id`,
    { heard },
  );
  return rows.map(ruleOf);
}

/** Rules that are on and go by the calendar. */
export async function readTimed(db: Queryable): Promise<readonly { readonly id: RuleId }[]> {
  const rows = await db.rows<{ id: IdBytes<RuleId> }>(
    `SELECT r.id FROM house_rule r LEFT JOIN house_rule_event e ON e.rule_id = r.id
      WHERE ${isAtWork} AND e.rule_id IS NULL ORDER BY r.id`,
  );
  return rows.map(({ id }) => ({ id: idOf(id) }));
}

/** The event that a rule waits for, as the table of events has it; null for one that goes by the calendar. */
export const eventOf = ({ when }: Pick<RuleBody, 'when'>) =>
  when.kind === 'event' ? hookEvents[when.event] : null;

/** Whether what happened went to where a rule waits for it. */
export const wentThere = ({ when }: Pick<RuleBody, 'when'>, to: string | null): boolean =>
  when.kind === 'event' && (when.to.length === 0 || (to !== null && when.to.includes(to)));
