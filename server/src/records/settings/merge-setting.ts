import type { Resolved } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { idOf } from '../../platform/ids';
import { mergeFields, type Before } from '../../platform/work/merge-change';
import type { Image } from '../../platform/work/written';

/** The stored texts of some settings; one that was never changed has none. */
export type StoredTexts = ReadonlyMap<string, string | undefined>;

type Fields = Readonly<Record<string, unknown>>;

export interface AskedSettings<Body extends { readonly version: number; readonly resolved?: Resolved }> {
  /** The settings it is kept in. */
  readonly names: readonly string[];
  readonly asked: Body;
  readonly record: { readonly version: number };
  /** Stored texts as the body has them, so many changes ago. */
  read(texts: StoredTexts, changesAgo: number): Body;
  /** Fields whose parts are fields of their own: of `p0` each chance. */
  readonly inParts?: readonly (keyof Body & string)[];
  /** Fields that are kept in tables of their own: what they were before a change. */
  readonly beside?: Readonly<Record<string, (setId: string) => Promise<unknown>>>;
}

/**
 * What a person means to change of settings, also when others changed them since: as `mergeChange` of a record, with each part of a setting a
 * field (`p0.reply` is one). The settings are locked. @throws Problem `stale` with each field that both changed and by whom
 */
export async function mergeSetting<Body extends { readonly version: number; readonly resolved?: Resolved }>(
  db: Queryable,
  { names, asked, record, read, inParts = [], beside = {} }: AskedSettings<Body>,
): Promise<Body> {
  if (asked.version === record.version) return asked;
  const texts = new Map(await readTexts(db, names));
  const flat = (body: object) => flattened(body, inParts);
  const current = flat(read(texts, 0));
  const before = new Map<string, Before>();
  let isKnown = false;
  let asSeen: Fields = {};
  for (const [index, { name, was, setId, by }] of (await readHistory(db, names)).entries()) {
    const later = flat(read(texts, index));
    if (was !== 'the same') texts.set(name, was.text);
    const seen = read(texts, index + 1);
    asSeen = flat(seen);
    for (const [field, value] of Object.entries(asSeen))
      if (JSON.stringify(value) !== JSON.stringify(later[field])) before.set(field, { value, by });
    isKnown = seen.version === asked.version;
    if (!isKnown) continue;
    for (const [field, readBefore] of Object.entries(beside)) {
      const value = await readBefore(setId);
      if (JSON.stringify(value) !== JSON.stringify(current[field])) before.set(field, { value, by });
    }
    break;
  }
  const { version: _, resolved, ...own } = flat(asked);
  // Parts that the others added were not in sight, so they were not taken out.
  const added = Object.entries(current).filter(([field]) => !(field in own) && !(field in asSeen));
  const fields: Fields = { ...Object.fromEntries(added), ...own };
  const merged = mergeFields({
    asked: { ...fields, ...(resolved === undefined ? {} : { resolved }) } as Fields,
    current,
    record,
    names: Object.keys(fields),
    isKnown,
    beforeOf: (name) => before.get(name) ?? null,
  });
  return { ...deep(merged), version: record.version } as unknown as Body;
}

async function readTexts(db: Queryable, names: readonly string[]): Promise<[string, string | undefined][]> {
  const rows = await db.rows<Row<'setting', 'name' | 'value'>>(
    'SELECT name, value FROM setting WHERE name IN (:names) ORDER BY name',
    { names: [...names] },
  );
  const stored = new Map(rows.map((row) => [row.name, row.value]));
  return names.map((name) => [name, stored.get(name)]);
}

interface Step {
  readonly name: string;
  /** The stored text before, of which there may have been none. */
  readonly was: { readonly text: string | undefined } | 'the same';
  readonly setId: string;
  readonly by: string;
}

const stepsRead = 400;

/** Changes of settings, the newest first. Relies on change_row_of. */
async function readHistory(db: Queryable, names: readonly string[]): Promise<Step[]> {
  const rows = await db.rows<
    Row<'change_row', 'set_id' | 'row_key' | 'op' | 'was'> & { by_name: string | null }
  >(
    `SELECT r.set_id, r.row_key, r.op, r.was, u.name AS by_name
       FROM change_row r JOIN change_set s ON s.id = r.set_id LEFT JOIN app_user u ON u.id = s.user_id
      WHERE r.table_name = 'setting' AND r.row_key IN (:keys) AND r.op <> 'delete'
      ORDER BY s.at DESC, s.id DESC, r.position DESC LIMIT ${stepsRead}`,
    { keys: names.map((name) => JSON.stringify({ name })) },
  );
  return rows.map(({ set_id, row_key, op, was, by_name }) => {
    const image = was === null ? {} : (JSON.parse(was) as Image);
    return {
      name: (JSON.parse(row_key) as { name: string }).name,
      was: op === 'update' && !('value' in image) ? 'the same' : { text: image.value ?? undefined },
      setId: idOf<string>(set_id),
      by: by_name ?? $localize`the system`,
    };
  });
}

const isPlain = (value: unknown): value is Fields =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** `{ p0: { reply: 1 } }` as `{ 'p0.reply': 1 }`. */
function flattened(body: object, inParts: readonly string[]): Fields {
  return Object.fromEntries(
    Object.entries(body).flatMap(([name, value]: [string, unknown]) =>
      inParts.includes(name) && isPlain(value)
        ? Object.entries(value).map(([part, each]) => [`${name}.${part}`, each])
        : [[name, value]],
    ),
  );
}

function deep(fields: Fields): Fields {
  const whole: Record<string, unknown> = {};
  for (const [path, value] of Object.entries(fields)) {
    if (path === 'resolved') continue;
    const [name, part] = path.split('.') as [string, string | undefined];
    if (part === undefined) whole[name] = value;
    else whole[name] = { ...(whole[name] as object | undefined), [part]: value };
  }
  return whole;
}
