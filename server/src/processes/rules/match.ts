import { longestChain, type RuleId } from '@kettle/contract';
import { mayFollow } from '@kettle/core/rules';
import * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, jsonOf } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import { enqueue } from '../../platform/jobs/job-table';
import type { DatabaseJob } from '../../platform/jobs/worker';
import type { Work } from '../../platform/work/work';
import { readSignedIn } from '../../records/users/index';
import { fireJobOf } from './fire';
import { eventOf, readWaiting, wentThere, type StoredRule } from './stored-rules';
import { findAmong, subjects } from './subjects';

const payloadShape = z.object({ ids: z.array(z.uuid()) });
const dataShape = z.looseObject({
  subjects: z.array(z.string()).default([]),
  to: z.string().nullish(),
});

/** What happened, as far as rules ask about it. */
export interface Happened {
  readonly id: string;
  readonly topic: string;
  readonly kind: string;
  readonly recordId: string;
  readonly setId: string;
  readonly at: string;
  readonly subjects: readonly string[];
  /** Where it went: a stage, a standing, an owner, a way to end, an outcome. */
  readonly to: string | null;
}

/** Looks which rules wait for what happened, and asks for each that fits to be carried out, once for each cause. */
export const matchRules: DatabaseJob = {
  words: $localize`looking which house rules something sets off`,
  effect: 'database',
  run: async (w, payload) => {
    const { ids } = payloadShape.parse(payload);
    const events = await readHappened(w, ids);
    const chains = await readChainsOf(w, [...new Set(events.map(({ setId }) => setId))]);
    for (const rule of await readWaiting(w, events)) await matchRule(w, rule, events, chains);
  },
};

export async function readHappened(db: Queryable, ids: readonly string[]): Promise<Happened[]> {
  const rows = await db.rows<
    Row<'event', 'id' | 'topic' | 'kind' | 'record_id' | 'set_id' | 'data' | 'at'> & {
      outcome: string | null;
    }
  >(
    `SELECT v.id, v.topic, v.kind, v.record_id, v.set_id, v.data, v.at,
            (SELECT j.outcome_id FROM journal_entry j WHERE v.kind = 'touch-logged' AND j.id = v.record_id) AS outcome
       FROM event v WHERE v.id IN (:ids) ORDER BY v.at, v.id`,
    { ids: ids.map((id) => bytesOf(id)) },
  );
  return rows.map((row) => {
    const data = dataShape.parse(JSON.parse(row.data));
    return {
      ...{ id: idOf<string>(row.id), topic: row.topic, kind: row.kind, at: instantOf(row.at) },
      ...{ recordId: idOf<string>(row.record_id), setId: idOf<string>(row.set_id) },
      ...{ subjects: data.subjects, to: row.outcome ?? data.to ?? null },
    };
  });
}

/** By change: the rules that led to it. */
async function readChainsOf(
  db: Queryable,
  setIds: readonly string[],
): Promise<ReadonlyMap<string, RuleId[]>> {
  if (setIds.length === 0) return new Map();
  const rows = await db.rows<Row<'rule_firing', 'set_id'> & { chain: unknown }>(
    'SELECT set_id, chain FROM rule_firing WHERE set_id IN (:ids) ORDER BY id',
    { ids: setIds.map((id) => bytesOf(id)) },
  );
  return new Map(rows.map((row) => [idOf<string>(row.set_id!), jsonOf(row.chain) as RuleId[]]));
}

async function matchRule(
  w: Work<null>,
  rule: StoredRule,
  events: readonly Happened[],
  chains: ReadonlyMap<string, RuleId[]>,
): Promise<void> {
  const mine = events.filter((event) => isWaitedFor(rule, event));
  if (mine.length === 0) return;
  const who = await readSignedIn(w, rule.userId, w.now);
  const candidates = new Map(mine.map((event) => [event.id, candidatesOf(rule, event)]));
  const asking = { subject: rule.subject, asks: rule.if, who };
  const found = new Set(
    (await findAmong(w, w.services, asking, [...new Set([...candidates.values()].flat())])).map(
      ({ id }) => id,
    ),
  );
  for (const event of mine) {
    const recordId = candidates.get(event.id)!.find((id) => found.has(id));
    if (recordId === undefined) continue;
    const chain = chains.get(event.setId) ?? [];
    await enqueue(
      w,
      fireJobOf(
        {
          ...{ ruleId: rule.id, recordId, cause: event.id, chain: [...chain, rule.id] },
          isStopped: !mayFollow(rule.id, chain, longestChain),
        },
        w.now,
      ),
    );
  }
}

const isWaitedFor = (rule: StoredRule, event: Happened): boolean => {
  const waited = eventOf(rule);
  return (
    waited !== null && waited.topic === event.topic && waited.kind === event.kind && wentThere(rule, event.to)
  );
};

/** The record itself, or those it is about: which of these are of the rule's kind is asked together with its questions. */
export const candidatesOf = ({ subject }: Pick<StoredRule, 'subject'>, event: Happened): readonly string[] =>
  event.topic === subjects[subject].topic ? [event.recordId] : event.subjects;
