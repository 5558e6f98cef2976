import type { RuleAct, RuleBody } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { PersonWork } from '../../platform/work/work';
import type { SignedIn } from '../../records/users/index';
import { settingProblem } from './set-field';

interface Named {
  readonly path: string;
  readonly table: string;
  readonly id: string;
  /** What must hold of it beside being there. */
  readonly and?: string;
}

/** What an act names. */
function namedBy(act: RuleAct, at: number): Named[] {
  const name = (field: string, table: string, id: string, and?: string): Named => ({
    path: `then.${at}.${field}`,
    ...{ table, id },
    ...(and === undefined ? {} : { and }),
  });
  const person = 'deactivated_at IS NULL';
  switch (act.kind) {
    case 'task':
      return act.ownerId === null ? [] : [name('ownerId', 'app_user', act.ownerId, person)];
    case 'deal':
    case 'stage':
      return [name('stageId', 'stage', act.stageId)];
    case 'standing':
      return [name('standingId', 'standing', act.standingId)];
    case 'owner':
      return [name('ownerId', 'app_user', act.ownerId, person)];
    case 'start-cadence':
      return [name('cadenceId', 'cadence', act.cadenceId, 'retired_at IS NULL')];
    case 'notify':
    case 'write':
      return act.to
        .filter((each) => each !== 'owner' && each !== 'manager')
        .map((id) => name('to', 'app_user', id, person));
    case 'mail':
      return [name('templateId', 'template', act.templateId, "retired_at IS NULL AND channel = 'email'")];
    case 'text':
      return [name('templateId', 'template', act.templateId, "retired_at IS NULL AND channel = 'text'")];
    case 'hook':
      return [name('hookId', 'hook', act.hookId, 'removed_at IS NULL')];
    default:
      return [];
  }
}

/** @throws Problem `invalid-request` at what a rule names and is not there, or only an admin may have it do */
export async function assertRefersWell(w: PersonWork, { subject, then }: RuleBody): Promise<void> {
  const fields: { path: string; message: string }[] = [];
  for (const named of then.flatMap(namedBy))
    if (!(await isThere(w, named)))
      fields.push({ path: named.path, message: $localize`is not there any more` });
  for (const [at, act] of then.entries()) {
    const wrong = act.kind === 'field' ? await settingProblem(w, subject, act) : null;
    if (wrong !== null) fields.push({ path: `then.${at}.${wrong.field}`, message: wrong.message });
  }
  fields.push(...notTheirs(w.who, then));
  if (fields.length > 0) throw new Problem('invalid-request', {}, { fields });
}

async function isThere(db: Queryable, { table, id, and }: Named): Promise<boolean> {
  const rows = await db.rows(
    `SELECT 1 FROM ${table} WHERE id = :id${and === undefined ? '' : ` AND ${and}`}`,
    { id: bytesOf(id) },
  );
  return rows.length > 0;
}

/** Web hooks are an admin’s. */
function notTheirs(who: SignedIn, then: readonly RuleAct[]) {
  if (who.role === 'admin') return [];
  return then.flatMap(({ kind }, at) =>
    kind === 'hook' ? [{ path: `then.${at}.kind`, message: $localize`is an admin’s to set` }] : [],
  );
}
