import type { Person, Role, UserId } from '@kettle/contract';
import { isDuplicateKey, type Queryable } from '../../platform/database/database';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, newId } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { usualHours, weekdaysOf } from '../settings/index';
import { assertGoodPassword, hashPassword } from './passwords';
import { personOf, userColumns } from './session';
import { work, type Writing } from '../../platform/work/work';

export interface NewUser {
  readonly name: string;
  readonly email: string;
  /** Null until its owner chooses one. */
  readonly password: string | null;
  readonly role: Role;
  readonly zone: string;
  readonly country: string;
}

/** @throws Problem `already-exists` when somebody has the address. */
export async function addUser(w: Writing, user: NewUser, id = newId<UserId>()): Promise<UserId> {
  try {
    await w.change(
      `INSERT INTO app_user (id, name, email, role, password_hash, zone, country, hours, created_at)
       VALUES (:id, :name, :email, :role, :hash, :zone, :country, :hours, :now)`,
      {
        id: bytesOf(id),
        name: user.name,
        email: user.email.toLowerCase(),
        role: user.role,
        hash: user.password === null ? null : await hashPassword(user.password),
        zone: user.zone,
        country: user.country,
        hours: JSON.stringify({ ...usualHours, weekdays: weekdaysOf(user.country) }),
        now: sqlInstant(w.now),
      },
    );
  } catch (error) {
    if (isDuplicateKey(error)) throw new Problem('already-exists', { what: user.email });
    throw error;
  }
  return id;
}

/** Makes the first admin. The key of `first_admin` can be written once, so two visitors at once make one. */
export async function addFirstAdmin(
  services: Services,
  user: Omit<NewUser, 'role'> & { readonly password: string },
): Promise<UserId> {
  await assertGoodPassword(user.password, user);
  return work(services, null, async (w) => {
    if (!(await needsAdmin(w))) throw new Problem('already-set-up');
    const id = await addUser(w, { ...user, role: 'admin' });
    const claimed = await w.change('INSERT IGNORE INTO first_admin (only_one, user_id) VALUES (1, :id)', {
      id: bytesOf(id),
    });
    if (claimed === 0) throw new Problem('already-set-up');
    return id;
  });
}

export async function needsAdmin(db: Queryable): Promise<boolean> {
  return (await db.rows('SELECT 1 FROM app_user LIMIT 1')).length === 0;
}

export async function readPerson(db: Queryable, id: UserId): Promise<Person> {
  const [row] = await db.rows<Parameters<typeof personOf>[0]>(
    `SELECT ${userColumns} FROM app_user u WHERE u.id = :id`,
    { id: bytesOf(id) },
  );
  if (!row) throw new Problem('not-found');
  return personOf(row);
}
