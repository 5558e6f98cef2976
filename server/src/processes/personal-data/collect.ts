import { Rows } from '../../activity/changes/index';
import { customWith } from '../../records/fields/index';
import type { Queryable } from '../../platform/database/database';
import { bytesOf, type IdBytes } from '../../platform/ids';
import { rowKeyOf, type Image } from '../../platform/work/written';
import { keptWithout, namesOnlyOfPerson } from './fates';

/** Rows by their tables, each as text: bytes in hex. */
export type Collected = Map<string, Image[]>;

const most = 100_000;
/** Bytes that are no text: what is in a file, and mail as it arrived, is in a place of its own. */
const leftOut = new Set(['file_part', 'mail_arrival']);

/** Everything that is held of a person: their row, all that hangs on it, and what bears their address or number alone. */
export async function collectPerson(db: Queryable, keeper: object, contactId: string): Promise<Collected> {
  const rows = await Rows.open(db, keeper);
  const found: Collected = new Map();
  const seen = new Set<string>();
  const take = async (table: string, key: string): Promise<boolean> => {
    if (seen.has(`${table} ${key}`)) return false;
    seen.add(`${table} ${key}`);
    const image = await rows.read(table, key);
    if (image === null || leftOut.has(table)) return false;
    found.set(table, [...(found.get(table) ?? []), image]);
    return true;
  };
  const walk = async (table: string, key: string): Promise<void> => {
    if (!(await take(table, key))) return;
    for (const each of await rows.referring(table, key, most)) {
      const reference = `${each.table}.${each.column}`;
      if (keptWithout.has(reference) || namesOnlyOfPerson.has(reference)) await take(each.table, each.key);
      else await walk(each.table, each.key);
    }
  };
  await walk('contact', rowKeyOf(contactId));
  const own = await db.rows<{ record: string; field: string }>(
    `SELECT HEX(record_id) AS record, HEX(field_id) AS field FROM custom_value WHERE ${customWith}`,
    { id: bytesOf(contactId) },
  );
  for (const { record, field } of own)
    await take('custom_value', JSON.stringify({ record_id: record, field_id: field }));
  for (const [table, ids] of Object.entries(await looseRows(db, contactId)))
    for (const id of ids) await take(table, rowKeyOf(id));
  return found;
}

/** Addresses, numbers and links of somebody, main and further ones. */
export const pointsOf = (db: Queryable, contactId: string) =>
  db.rows<{ kind: string; value: string }>(
    `SELECT 'email' AS kind, email AS value FROM contact WHERE id = :id AND email IS NOT NULL
     UNION SELECT 'phone', phone FROM contact WHERE id = :id AND phone IS NOT NULL
     UNION SELECT kind, value FROM contact_point WHERE contact_id = :id`,
    { id: bytesOf(contactId) },
  );

/** Rows that no key ties to the person, but their address or number: by the tables they lie in, as ids. */
export async function looseRows(db: Queryable, contactId: string): Promise<Record<string, string[]>> {
  const id = bytesOf(contactId);
  const idsOf = async (sql: string, values: Record<string, readonly string[] | IdBytes | string>) =>
    (await db.rows<{ id: string }>(sql, values)).map((row) => row.id);
  const points = await pointsOf(db, contactId);
  const of = (kind: string) => points.filter((each) => each.kind === kind).map(({ value }) => value);
  const [addresses, numbers] = [of('email'), of('phone')];
  const uuid =
    'LOWER(CONCAT_WS("-", SUBSTR(HEX(id),1,8), SUBSTR(HEX(id),9,4), SUBSTR(HEX(id),13,4), SUBSTR(HEX(id),17,4), SUBSTR(HEX(id),21)))';
  const select = (table: string, where: string) =>
    `SELECT ${uuid} AS id FROM ${table} WHERE ${where} ORDER BY id LIMIT ${most}`;
  return {
    mail:
      addresses.length === 0
        ? []
        : await idsOf(
            select(
              'mail',
              'contact_id IS NULL AND (from_address IN (:addresses) OR to_address IN (:addresses))',
            ),
            { addresses },
          ),
    phone_call:
      numbers.length === 0
        ? []
        : await idsOf(select('phone_call', 'contact_id IS NULL AND number IN (:numbers)'), { numbers }),
    text_message:
      numbers.length === 0
        ? []
        : await idsOf(select('text_message', 'contact_id IS NULL AND number IN (:numbers)'), { numbers }),
    stirring:
      numbers.length === 0
        ? []
        : await idsOf(select('stirring', 'contact_id IS NULL AND number IN (:numbers)'), { numbers }),
    contact_merge: await idsOf(select('contact_merge', 'kept_id = :id OR gone_id = :id'), { id }),
    notification: await idsOf(select('notification', 'path LIKE :path'), { path: `/people/${contactId}%` }),
  };
}
