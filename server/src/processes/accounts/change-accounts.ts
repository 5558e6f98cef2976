import type { changeAccount as changing, InvitePerson, Owned, UserId } from '@kettle/contract';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import { mergeChange } from '../../platform/work/merge-change';
import type { PersonWork } from '../../platform/work/work';
import { noteSecurity } from '../../records/security/index';
import { addUser, closeSessionsOf } from '../../records/users/index';
import { ownedKeys, ownedTables, readAccount, readOwned } from './read-accounts';
import { takeTurn } from '../../platform/work/take-turn';

/** Adds somebody who has no password yet. @throws Problem `already-exists`, `invalid-request` for nobody's manager */
export async function invitePerson(w: PersonWork, body: InvitePerson): Promise<UserId> {
  const { managerId, ...person } = body;
  const id = await addUser(w, { ...person, password: null });
  if (managerId !== null) await setManager(w, id, managerId);
  w.say($localize`${body.name}:name: invited`);
  return id;
}

const fields = {
  name: { column: 'name' },
  role: { column: 'role' },
  managerId: { column: 'manager_id' },
} as const;

/** Changes name, role and manager, field by field. @throws Problem `last-admin`, `stale`, `invalid-request` for a circle of managers */
export async function changeAccount(
  w: PersonWork,
  id: UserId,
  asked: z.output<typeof changing>,
): Promise<void> {
  await takeTurn(w, 'accounts');
  const record = await readAccount(w, id);
  const { name, role, managerId } = await mergeChange(w, { table: 'app_user', id, fields, asked, record });
  if (record.role === 'admin' && role !== 'admin') await assertOtherAdmin(w, id);
  await w.change('UPDATE app_user SET name = :name, role = :role, version = version + 1 WHERE id = :id', {
    id: bytesOf(id),
    name,
    role,
  });
  await setManager(w, id, managerId);
  w.say($localize`Account of ${name}:name: changed`);
  await noteSecurity(w, {
    kind: 'account-changed',
    userId: w.who.id,
    aboutId: id,
    data: { ...(role === record.role ? {} : { from: record.role, to: role }) },
  });
}

/** @throws Problem `last-admin` when nobody else could change settings */
async function assertOtherAdmin(db: Queryable, id: UserId): Promise<void> {
  const others = await db.rows(
    `SELECT 1 FROM app_user WHERE role = 'admin' AND deactivated_at IS NULL AND password_hash IS NOT NULL AND id <> :id LIMIT 1`,
    { id: bytesOf(id) },
  );
  if (others.length === 0) throw new Problem('last-admin');
}

async function setManager(w: PersonWork, id: UserId, managerId: UserId | null): Promise<void> {
  if (managerId !== null) await assertMayLead(w, id, managerId);
  await w.change(
    'UPDATE app_user SET manager_id = :manager WHERE id = :id AND NOT (manager_id <=> :manager)',
    {
      id: bytesOf(id),
      manager: bytesOf(managerId),
    },
  );
}

/** @throws Problem `invalid-request` when the manager is nobody, no manager, or led by the person themself */
async function assertMayLead(db: Queryable, id: UserId, managerId: UserId): Promise<void> {
  const wrong = (message: string) =>
    new Problem('invalid-request', {}, { fields: [{ path: 'managerId', message }] });
  const people = await db.rows<Row<'app_user', 'id' | 'role' | 'manager_id' | 'deactivated_at'>>(
    'SELECT id, role, manager_id, deactivated_at FROM app_user ORDER BY id',
  );
  const known = new Map(people.map((row) => [idOf<string>(row.id), row]));
  const manager = known.get(managerId);
  if (!manager || manager.deactivated_at !== null) throw wrong($localize`does not work here any more`);
  if (manager.role === 'rep') throw wrong($localize`is a rep; only managers and admins lead others`);
  for (let at: string | null = managerId; at !== null; at = idOrNull(known.get(at)?.manager_id ?? null))
    if (at === id) throw wrong($localize`is led by this person; a circle of managers leads nowhere`);
}

/**
 * Ends somebody's access: their sessions end, links no longer count, and what they own goes to a colleague. What they did stays under their
 * name. Undone, they may sign in again and own what they did.
 * @throws Problem `own-account`, `last-admin`, `hand-over-needed`
 */
export async function deactivate(
  w: PersonWork,
  id: UserId,
  { handOverTo }: { readonly handOverTo: UserId | null },
): Promise<void> {
  if (id === w.who.id) throw new Problem('own-account');
  await takeTurn(w, 'accounts');
  const account = await readAccount(w, id);
  if (account.state === 'deactivated') return;
  if (account.role === 'admin') await assertOtherAdmin(w, id);
  await handOver(w, account, handOverTo);
  // Whoever they led is led by their manager from now on.
  await w.change('UPDATE app_user SET manager_id = :manager, version = version + 1 WHERE manager_id = :id', {
    id: bytesOf(id),
    manager: bytesOf(account.managerId),
  });
  await w.change('UPDATE app_user SET deactivated_at = :now, version = version + 1 WHERE id = :id', {
    id: bytesOf(id),
    now: sqlInstant(w.now),
  });
  await closeSessionsOf(w, id, null);
  await w.change('DELETE FROM account_link WHERE user_id = :id', { id: bytesOf(id) });
  await noteSecurity(w, { kind: 'deactivated', userId: w.who.id, aboutId: id });
  w.say($localize`${account.name}:name: deactivated`);
}

async function handOver(
  w: PersonWork,
  from: { readonly id: UserId; readonly name: string },
  to: UserId | null,
): Promise<void> {
  const owned = await readOwned(w, from.id);
  const isHad = (key: keyof Owned) => owned[key] > 0;
  const needed = ownedKeys.filter((key) => isHad(key) && !ownedTables[key].mayBeNobodys);
  if (to === null && needed.length > 0)
    throw new Problem(
      'hand-over-needed',
      { name: from.name, what: needed.map((key) => `${owned[key]} ${ownedTables[key].words}`).join(', ') },
      { fields: [{ path: 'handOverTo', message: $localize`must be somebody` }] },
    );
  if (to !== null) {
    const heir = await readAccount(w, to);
    if (heir.state !== 'active' || to === from.id)
      throw new Problem(
        'invalid-request',
        {},
        { fields: [{ path: 'handOverTo', message: $localize`must be somebody who signs in` }] },
      );
  }
  for (const key of ownedKeys.filter(isHad)) {
    const { table, where } = ownedTables[key];
    await w.change(
      `UPDATE ${table} SET owner_id = :to, version = version + 1 WHERE owner_id = :from AND ${where}`,
      { from: bytesOf(from.id), to: bytesOf(to) },
    );
  }
}

/** Lets somebody sign in again, with the password they had. What was handed over stays where it is. */
export async function reactivate(w: PersonWork, id: UserId): Promise<void> {
  const account = await readAccount(w, id);
  if (account.state !== 'deactivated') return;
  await w.change('UPDATE app_user SET deactivated_at = NULL, version = version + 1 WHERE id = :id', {
    id: bytesOf(id),
  });
  await noteSecurity(w, { kind: 'reactivated', userId: w.who.id, aboutId: id });
  w.say($localize`${account.name}:name: may sign in again`);
}

/**
 * Ends every account of the demo in one act; what they own goes to the admin who asks. Their password is forgotten, so that an undo or a
 * reactivation does not open the door again.
 * @throws Problem `demo-admin` when the admin is one of them
 */
export async function removeDemoAccounts(w: PersonWork): Promise<number> {
  const rows = await w.rows<Row<'app_user', 'id'>>(
    'SELECT id FROM app_user WHERE demo_words IS NOT NULL ORDER BY id FOR UPDATE',
  );
  const ids = rows.map((row) => idOf<UserId>(row.id));
  if (ids.includes(w.who.id)) throw new Problem('demo-admin');
  for (const id of ids) {
    await deactivate(w, id, { handOverTo: w.who.id });
    await w.change(
      'UPDATE app_user SET password_hash = NULL, demo_words = NULL, version = version + 1 WHERE id = :id',
      { id: bytesOf(id) },
    );
  }
  await noteSecurity(w, { kind: 'demo-accounts-removed', userId: w.who.id, data: { count: ids.length } });
  w.say($localize`${ids.length}:length: demo accounts removed`);
  return ids.length;
}
