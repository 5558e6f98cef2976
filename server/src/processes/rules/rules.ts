import type { changeRule as changed, Rule, RuleBody, RuleFiring, RuleId } from '@kettle/contract';
import { mostRules } from '@kettle/contract';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf, instantOrNull, sqlInstant, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull, newId, type IdBytes } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { mergeChange, type FieldsAt } from '../../platform/work/merge-change';
import type { PersonWork } from '../../platform/work/work';
import type { SignedIn } from '../../records/users/index';
import { undoSet } from '../../activity/changes/index';
import { assertRefersWell } from './references';
import { circleWith } from './signals';
import { eventOf, findRule, readRules, type StoredRule } from './stored-rules';
import { subjects } from './subjects';

const countedDays = 30;

const mayChange = (who: SignedIn, rule: StoredRule) => who.role === 'admin' || rule.userId === who.id;

/** All of them: a manager changes their own, an admin any. */
export async function listRules(db: Queryable, who: SignedIn, now: string): Promise<Rule[]> {
  const counts = new Map(
    (
      await db.rows<{ rule_id: IdBytes<string>; fired: string; not_done: string; fired_at: string | null }>(
        `SELECT rule_id, SUM(state = 'done') AS fired, SUM(state <> 'done') AS not_done, MAX(IF(state = 'done', at, NULL)) AS fired_at
           FROM rule_firing WHERE at >= :now - INTERVAL ${countedDays} DAY GROUP BY rule_id ORDER BY rule_id`,
        { now: sqlInstant(now) },
      )
    ).map((row) => [idOf<string>(row.rule_id), row]),
  );
  const names = new Map(
    (
      await db.rows<Row<'app_user', 'id' | 'name' | 'deactivated_at'>>(
        'SELECT id, name, deactivated_at FROM app_user ORDER BY id',
      )
    ).map((row) => [
      idOf<string>(row.id),
      row.deactivated_at === null ? row.name : $localize`${row.name}:name:, who has left`,
    ]),
  );
  return (await readRules(db)).map(({ userId, lookedOn: _, ...rule }) => {
    const count = counts.get(rule.id);
    return {
      ...rule,
      then: [...rule.then],
      ...{ byId: userId, byName: names.get(userId) ?? '' },
      mayChange: mayChange(who, { ...rule, userId, lookedOn: null }),
      ...{ fired: wholeNumber(count?.fired ?? 0), notDone: wholeNumber(count?.not_done ?? 0) },
      firedAt: instantOrNull(count?.fired_at ?? null),
    };
  });
}

/** @throws Problem `not-found` */
export async function readRule(db: Queryable, who: SignedIn, id: string, now: string): Promise<Rule> {
  const found = (await listRules(db, who, now)).find((each) => each.id === id);
  if (!found) throw new Problem('not-found');
  return found;
}

/** @throws Problem `too-many-rules`, `rules-in-a-circle`, `invalid-request` for what it names and is not there */
export async function addRule(w: PersonWork, body: RuleBody): Promise<RuleId> {
  const others = await readRules(w);
  if (others.length >= mostRules) throw new Problem('too-many-rules', { most: mostRules });
  const id = newId<RuleId>();
  await assertRefersWell(w, body);
  assertNoCircle(body, id, others);
  await w.change(
    `INSERT INTO house_rule (id, name, subject, waits_for, asks, does, is_on, on_since, missed, per_day, user_id, created_at, changed_at)
     VALUES (:id, :name, :subject, :when, :asks, :does, :on, IF(:on = 1, :now, NULL), :missed, :perDay, :user, :now, :now)`,
    { id: bytesOf(id), ...columnsOf(body), user: bytesOf(w.who.id), now: sqlInstant(w.now) },
  );
  await writeEvent(w, id, body);
  w.say($localize`House rule added: ${body.name}:name:`);
  return id;
}

const columnsOf = (body: RuleBody) => ({
  ...{ name: body.name, subject: body.subject, when: JSON.stringify(body.when) },
  asks: body.if === null ? null : JSON.stringify(body.if),
  does: JSON.stringify(body.then),
  ...{ on: body.isOn ? 1 : 0, missed: body.missed, perDay: body.perDay },
});

/** What it waits for as the events are written; nothing for one that goes by the calendar. */
async function writeEvent(w: PersonWork, id: RuleId, rule: RuleBody): Promise<void> {
  const event = eventOf(rule);
  if (event !== null)
    await w.change('INSERT INTO house_rule_event (rule_id, topic, kind) VALUES (:id, :topic, :kind)', {
      ...{ id: bytesOf(id), topic: event.topic, kind: event.kind },
    });
}

function assertNoCircle(body: RuleBody, id: string, others: readonly StoredRule[]): void {
  if (!body.isOn) return;
  const names = circleWith(body, id, others);
  if (names !== null) throw new Problem('rules-in-a-circle', { names: names.join(' → ') });
}

const json = (text: string | null): unknown => (text === null ? null : (JSON.parse(text) as unknown));

const fields: FieldsAt<z.output<typeof changed>> = {
  name: { column: 'name' },
  subject: { column: 'subject' },
  when: { column: 'waits_for', read: json },
  if: { column: 'asks', read: json },
  then: { column: 'does', read: json },
  isOn: { column: 'is_on', read: (text) => text === '1' },
  missed: { column: 'missed' },
  perDay: { column: 'per_day', read: Number },
};

/** Switched on it begins from now: what happened while it was off is past. @throws Problem as `addRule`, `not-yours`, `stale` */
export async function changeRule(w: PersonWork, id: string, asked: z.output<typeof changed>): Promise<void> {
  const before = await findRule(w, id, true);
  if (before === null) throw new Problem('not-found');
  if (!mayChange(w.who, before)) throw new Problem('not-allowed');
  const record = await readRule(w, w.who, id, w.now);
  const body = await mergeChange(w, { table: 'house_rule', id, fields, asked, record });
  await assertRefersWell(w, body);
  assertNoCircle(body, id, await readRules(w));
  const begins = body.isOn && (!before.isOn || JSON.stringify(body.when) !== JSON.stringify(before.when));
  await w.change(
    `UPDATE house_rule SET name = :name, subject = :subject, waits_for = :when, asks = :asks, does = :does, missed = :missed,
            per_day = :perDay,
            user_id = IF((SELECT u.deactivated_at IS NULL FROM app_user u WHERE u.id = user_id), user_id, :me), is_on = :on, on_since = IF(:on = 0, NULL, IF(:begins = 1, :now, on_since)),
            looked_on = IF(:begins = 1, NULL, looked_on), changed_at = :now, version = version + 1 WHERE id = :id`,
    {
      ...{ id: bytesOf(id), ...columnsOf(body), begins: begins ? 1 : 0, now: sqlInstant(w.now) },
      me: bytesOf(w.who.id),
    },
  );
  const [was, is] = [eventOf(before), eventOf(body)];
  if (was?.topic !== is?.topic || was?.kind !== is?.kind) {
    if (was !== null) await w.change('DELETE FROM house_rule_event WHERE rule_id = :id', { id: bytesOf(id) });
    await writeEvent(w, before.id, body);
  }
  w.say($localize`House rule changed: ${body.name}:name:`);
}

/** What it did stays done. */
export async function removeRule(w: PersonWork, id: string): Promise<void> {
  const rule = await findRule(w, id, true);
  if (rule === null) throw new Problem('not-found');
  if (!mayChange(w.who, rule)) throw new Problem('not-allowed');
  await w.change(
    'UPDATE house_rule SET removed_at = :now, changed_at = :now, version = version + 1 WHERE id = :id',
    { id: bytesOf(id), now: sqlInstant(w.now) },
  );
  w.say($localize`House rule removed: ${rule.name}:name:`);
}

const mostListed = 100;

export async function listFirings(
  db: Queryable,
  ruleId: string,
): Promise<{ firings: RuleFiring[]; isCut: boolean }> {
  const rule = await findRule(db, ruleId);
  if (rule === null) throw new Problem('not-found');
  const { table, alias, name, path } = subjects[rule.subject];
  const rows = await db.rows<
    Row<'rule_firing', 'id' | 'record_id' | 'at' | 'state' | 'because' | 'words' | 'set_id'> & {
      name: string | null;
      undone: number | null;
    }
  >(
    `SELECT f.id, f.record_id, f.at, f.state, f.because, f.words, f.set_id, ${name} AS name,
            (SELECT s.undone_by_id IS NOT NULL FROM change_set s WHERE s.id = f.set_id) AS undone
       FROM rule_firing f LEFT JOIN ${table} ${alias} ON ${alias}.id = f.record_id
      WHERE f.rule_id = :id ORDER BY f.at DESC, f.id DESC LIMIT ${mostListed + 1}`,
    { id: bytesOf(ruleId) },
  );
  const firings = rows.slice(0, mostListed).map((row): RuleFiring => {
    const recordId = idOf<string>(row.record_id);
    return {
      ...{ id: idOf(row.id), at: instantOf(row.at), recordId, name: row.name ?? '' },
      path: row.name === null ? '' : path + recordId,
      ...{ because: row.because, state: row.state, words: row.words },
      // Change sets go after a while; what went can no longer be undone.
      changeId: row.undone === null ? null : idOrNull(row.set_id),
      isUndone: row.undone === 1,
    };
  });
  return { firings, isCut: rows.length > mostListed };
}

/** Undoes what a rule did to one record. @throws Problem `not-found`, `not-allowed`, and why it can no longer be undone */
export async function undoFiring(
  services: Services,
  who: SignedIn,
  ruleId: string,
  firingId: string,
): Promise<void> {
  const rule = await findRule(services.database, ruleId);
  if (rule === null) throw new Problem('not-found');
  if (!mayChange(who, rule)) throw new Problem('not-allowed');
  const [row] = await services.database.rows<Row<'rule_firing', 'set_id'>>(
    'SELECT set_id FROM rule_firing WHERE id = :id AND rule_id = :rule',
    { id: bytesOf(firingId), rule: bytesOf(ruleId) },
  );
  if (!row || row.set_id === null) throw new Problem('not-found');
  await undoSet(services, who, idOf(row.set_id));
}
