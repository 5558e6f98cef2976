import { ruleId, type RuleId } from '@kettle/contract';
import { sayDate } from '@kettle/core/time';
import * as z from 'zod';
import { sqlInstant, wholeNumber } from '../../platform/database/values';
import { bytesOf, newId } from '../../platform/ids';
import type { NewJob } from '../../platform/jobs/job-table';
import type { DatabaseJob } from '../../platform/jobs/worker';
import { attempt } from '../../platform/work/attempt';
import { actingAs, type Work } from '../../platform/work/work';
import { notify } from '../../records/notifications/index';
import { readSignedIn } from '../../records/users/index';
import { doAct, readSubject } from './acts';
import { sayEvent } from './say';
import { findRule, type StoredRule } from './stored-rules';
import { findAmong } from './subjects';

export const fireKind = 'fire-rule';

/** A rule that is to be carried out for one record, of one cause. */
export interface Firing {
  readonly ruleId: RuleId;
  readonly recordId: string;
  /** An event's id, or a record and its day: never twice for one. */
  readonly cause: string;
  readonly chain: readonly RuleId[];
  /** It would go in a circle, or too far: only that is written down. */
  readonly isStopped: boolean;
}

const firingShape = z.object({
  ruleId,
  recordId: z.uuid(),
  cause: z.string(),
  chain: z.array(ruleId),
  isStopped: z.boolean(),
});

export const fireJobOf = (firing: Firing, dueAt: string): NewJob => ({
  kind: fireKind,
  dedupeKey: `${fireKind}:${firing.ruleId}:${firing.cause}`,
  payload: firing,
  dueAt,
});

/**
 * Carries a rule out, in one transaction with the job's end and the line that says so: whatever is killed when, it is done once or not at all
 * and then again. What a use case refuses is rolled back whole and written down with its reason.
 */
export const fireRule: DatabaseJob = {
  words: $localize`carrying out a house rule`,
  effect: 'database',
  run: async (w, payload) => {
    const firing = firingShape.parse(payload);
    const rule = await findRule(w, firing.ruleId, true);
    if (rule?.isOn !== true || (await isKnown(w, firing))) return;
    const because = await sayCause(w, rule, firing);
    if (firing.isStopped)
      return note(w, firing, because, {
        state: 'stopped',
        words: $localize`It would have set itself off again, or gone on from rule to rule without end.`,
      });
    if (await isOver(w, rule))
      return note(w, firing, because, {
        state: 'over',
        words: $localize`It did as much today as it may: ${rule.perDay}:count:.`,
      });
    await carryOut(w, rule, firing, because);
  },
};

async function carryOut(w: Work<null>, rule: StoredRule, firing: Firing, because: string): Promise<void> {
  const who = await readSignedIn(w, rule.userId, w.now);
  const asking = { subject: rule.subject, asks: rule.if, who };
  const [record] = await findAmong(w, w.services, asking, [firing.recordId]);
  // Changed meanwhile, so that it no longer fits.
  if (record === undefined) return;
  const acting = actingAs(w, who);
  const done: string[] = [];
  const refused = await attempt(w, async () => {
    const subject = await readSubject(acting, rule.subject, firing.recordId);
    for (const act of rule.then) done.push(await doAct(acting, subject, act, rule));
  });
  // Without the record's name: what wrote no row of a person's would keep it after they are erased.
  w.say($localize`House rule “${rule.name}:name:”`);
  if (refused === null) return note(w, firing, because, { state: 'done', words: done.join('; ') });
  await note(w, firing, because, { state: 'refused', words: refused.message });
  await notify(
    w,
    'trouble',
    [rule.userId],
    $localize`The house rule “${rule.name}:name:” could not be carried out for ${record.name}:record:: ${refused.message}:why:`,
    record.path,
    false,
  );
}

/** Jobs are forgotten after a while; what was done is not done for the same cause again. */
async function isKnown(w: Work<null>, { ruleId, cause }: Firing): Promise<boolean> {
  const rows = await w.rows('SELECT 1 FROM rule_firing WHERE rule_id = :rule AND cause = :cause', {
    rule: bytesOf(ruleId),
    cause,
  });
  return rows.length > 0;
}

async function isOver(w: Work<null>, { id, perDay }: StoredRule): Promise<boolean> {
  const [row] = await w.rows<{ n: string }>(
    "SELECT COUNT(*) AS n FROM rule_firing WHERE rule_id = :id AND state = 'done' AND at >= DATE(:now)",
    { id: bytesOf(id), now: sqlInstant(w.now) },
  );
  return wholeNumber(row?.n ?? 0) >= perDay;
}

async function note(
  w: Work<null>,
  { ruleId, recordId, cause, chain }: Firing,
  because: string,
  { state, words }: { state: 'done' | 'refused' | 'stopped' | 'over'; words: string },
): Promise<void> {
  await w.change(
    `INSERT INTO rule_firing (id, rule_id, cause, record_id, at, state, because, words, set_id, chain)
     VALUES (:id, :rule, :cause, :record, :now, :state, :because, :words, :set, :chain)`,
    {
      ...{ id: bytesOf(newId()), rule: bytesOf(ruleId), cause, record: bytesOf(recordId), state },
      ...{ now: sqlInstant(w.now), because: because.slice(0, 300), words: words.slice(0, 500) },
      ...{ set: state === 'done' ? bytesOf(w.id) : null, chain: JSON.stringify(chain) },
    },
  );
  w.note('rule', ruleId);
}

/** What set it off, in words that are kept: events are erased with people. */
async function sayCause(w: Work<null>, rule: StoredRule, { cause }: Firing): Promise<string> {
  const { when } = rule;
  if (when.kind === 'event') return sayEvent(w, cause, when.event);
  const on = sayDate(cause.slice(-10), w.now.slice(0, 10));
  if (when.kind === 'silence') return $localize`no contact for ${when.days}:days: days, on ${on}:on:`;
  if (when.kind === 'stage') return $localize`${when.days}:days: days in its stage, on ${on}:on:`;
  return $localize`its day, ${on}:on:`;
}
