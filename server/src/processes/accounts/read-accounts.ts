import type { Account, Owned, UserId } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import type { Row, Tables } from '../../platform/database/schema.generated';
import { instantOrNull, wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import { Problem } from '../../platform/problem';

interface AccountRow extends Row<
  'app_user',
  | 'id'
  | 'name'
  | 'email'
  | 'role'
  | 'manager_id'
  | 'password_hash'
  | 'demo_words'
  | 'deactivated_at'
  | 'version'
> {
  manager_name: Tables['app_user']['name'] | null;
  has_factor: number;
  seen_at: string | null;
}

/** Everybody who signs in, or did; by name, who was deactivated last. */
export async function readAccounts(db: Queryable, id?: string): Promise<Account[]> {
  const rows = await db.rows<AccountRow>(
    `SELECT u.id, u.name, u.email, u.role, u.manager_id, m.name AS manager_name, u.password_hash, u.demo_words, u.deactivated_at, u.version,
            EXISTS (SELECT 1 FROM second_factor f WHERE f.user_id = u.id AND f.proven_at IS NOT NULL) AS has_factor,
            (SELECT MAX(s.seen_at) FROM session s WHERE s.user_id = u.id) AS seen_at
       FROM app_user u LEFT JOIN app_user m ON m.id = u.manager_id
      WHERE :id IS NULL OR u.id = :id ORDER BY u.deactivated_at IS NOT NULL, u.name, u.id`,
    { id: bytesOf(id) },
  );
  return rows.map((row) => ({
    id: idOf(row.id),
    name: row.name,
    email: row.email,
    role: row.role,
    managerId: idOrNull<UserId>(row.manager_id),
    managerName: row.manager_name,
    state: row.deactivated_at !== null ? 'deactivated' : row.password_hash === null ? 'invited' : 'active',
    hasSecondFactor: row.has_factor === 1,
    isDemo: row.demo_words !== null,
    seenAt: instantOrNull(row.seen_at),
    version: row.version,
  }));
}

/** @throws Problem `not-found` */
export async function readAccount(db: Queryable, id: string): Promise<Account> {
  const [account] = await readAccounts(db, id);
  if (!account) throw new Problem('not-found');
  return account;
}

/** Tables whose rows belong to somebody, and which of them are handed over; what is over stays theirs. */
export const ownedTables = {
  contacts: { table: 'contact', where: 'TRUE', mayBeNobodys: true, words: 'people' },
  companies: { table: 'company', where: 'TRUE', mayBeNobodys: true, words: 'companies' },
  leads: {
    table: 'sales_lead',
    where: "status IN ('untried', 'trying', 'in-talks', 'set-aside')",
    mayBeNobodys: true,
    words: 'leads',
  },
  deals: {
    table: 'deal',
    where: "status IN ('open', 'parked')",
    mayBeNobodys: false,
    words: $localize`open deals`,
  },
  tasks: { table: 'task', where: "state = 'open'", mayBeNobodys: false, words: $localize`open tasks` },
  agreements: { table: 'agreement', where: 'archived_at IS NULL', mayBeNobodys: false, words: 'agreements' },
  runs: {
    table: 'run',
    where: "status IN ('running', 'paused')",
    mayBeNobodys: false,
    words: $localize`cadences that run`,
  },
} as const satisfies Record<
  keyof Owned,
  { table: string; where: string; mayBeNobodys: boolean; words: string }
>;

export const ownedKeys = Object.keys(ownedTables) as (keyof Owned)[];

/** How much somebody owns that would be handed over. */
export async function readOwned(db: Queryable, userId: string): Promise<Owned> {
  const [row] = await db.rows<Record<keyof Owned, string>>(
    `SELECT ${ownedKeys
      .map((key) => {
        const { table, where } = ownedTables[key];
        return `(SELECT COUNT(*) FROM ${table} WHERE owner_id = :id AND ${where}) AS ${key}`;
      })
      .join(', ')}`,
    { id: bytesOf(userId) },
  );
  return Object.fromEntries(ownedKeys.map((key) => [key, wholeNumber(row?.[key] ?? 0)])) as Owned;
}
