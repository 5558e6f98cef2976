import { routes, type Role, type RouteSpec } from '@kettle/contract';
import { isAtLeast } from '@kettle/core/rights';
import { instantOf } from '../../platform/database/values';
import { Problem } from '../../platform/problem';
import { bytesOf, idOf, idOrNull, newId } from '../../platform/ids';
import type { Queryable } from '../../platform/database/database';
import { specOf } from '../../platform/database/tables';
import { attempt } from '../../platform/work/attempt';
import { work, type PersonWork } from '../../platform/work/work';
import { readWritten, rowKeyOf, idOfHex, type Image, type WrittenRow } from '../../platform/work/written';
import type { Services } from '../../platform/services';
import { type SignedIn } from '../../records/users/index';
import { mayChange } from '../../records/rights/index';
import { writeSystemEntries } from '../../records/entries/index';
import { notify, takeNoticesBack } from '../../records/notifications/index';
import { hardColumns, inOrderOfLeaving, netEffects, type NetEffect } from './net-effect';
import { Rows } from './rows';
import type { Row } from '../../platform/database/schema.generated';

/** How long a change can be undone. */
export const undoDays = 30;

export interface StoredSet {
  readonly id: string;
  readonly userId: string | null;
  readonly act: string;
  readonly words: string;
  readonly at: string;
  readonly undoesId: string | null;
  readonly undoneById: string | null;
}

/**
 * Puts everything back that a change set wrote, in a unit of work of its own, which can be undone as well.
 * @throws Problem `not-found` when it is not one's own (managers: anybody's), `already-done`, `undo-expired` after 30 days,
 * `cannot-undo` with what was changed since, by whom and when
 */
export async function undoSet(services: Services, who: SignedIn, setId: string): Promise<void> {
  await work(services, who, (w) => undoInside(w, setId), { undoesId: setId });
}

/** The same inside a unit of work that does more. */
export async function undoInside(w: PersonWork, setId: string): Promise<void> {
  const set = await lockSet(w, setId);
  const parts = await readParts(w, setId);
  const rows: WrittenRow[] = [];
  // As they were written: the set before its parts, and those in their order.
  for (const each of [set, ...parts]) rows.push(...(await readWritten(w, each.id)));
  await takeBack(w, netEffects(rows), [set.id, ...parts.map(({ id }) => id)]);
  await markUndone(w, set, parts);
}

export interface PartUndone {
  /** False for a part that never ran, or was undone before: nothing was done. */
  readonly isKnown: boolean;
  /** Records that were changed since, by id, with what was changed. They are as they are now. */
  readonly kept: ReadonlyMap<string, string>;
}

/** Undoes one part of bulk work, known by its name, record by record: what was changed since stays as it is. */
export async function undoPart(w: PersonWork, parentId: string, name: string): Promise<PartUndone> {
  const [part] = await w.rows<Row<'change_set', 'id'>>(
    'SELECT id FROM change_set WHERE parent_id = :parent AND words = :name AND undone_by_id IS NULL ORDER BY at, id LIMIT 1 FOR UPDATE',
    { parent: bytesOf(parentId), name },
  );
  if (!part) return { isKnown: false, kept: new Map() };
  const setId = idOf<string>(part.id);
  const rows = await readWritten(w, setId);
  await takeNoticesBack(w, [parentId]);
  const kept = new Map<string, string>();
  for (const [record, effects] of byRecord(netEffects(rows))) {
    const refused = await attempt(w, () => takeBack(w, effects, [setId]));
    if (refused !== null) kept.set(record, refused.message);
  }
  // What puts something back is no change since, for whoever undoes what came before it.
  await w.change('UPDATE change_set SET undoes_id = :part WHERE id = :by AND undoes_id IS NULL', {
    ...{ part: bytesOf(setId), by: bytesOf(w.id) },
  });
  await w.change('UPDATE change_set SET undone_by_id = :by WHERE id = :id', {
    id: bytesOf(setId),
    by: bytesOf(w.id),
  });
  return { isKnown: true, kept };
}

/** What has parts of its own: they go and come with it. */
const wholes = { deal: 'deal_id', agreement: 'agreement_id', sales_lead: 'lead_id' } as const;

/** Contacts first, with all that hangs on them; what they were put into, such as companies, after them. */
function byRecord(effects: readonly NetEffect[]): Map<string, NetEffect[]> {
  const records = new Map<string, NetEffect[]>();
  const roots = new Map(
    effects.flatMap(({ row: { table, refs } }) =>
      table in wholes && refs.id ? [[refs.id, refs.contact_id ?? refs.company_id ?? refs.id] as const] : [],
    ),
  );
  const wholeOf = (refs: WrittenRow['refs']) =>
    [refs.record_id, ...Object.values(wholes).map((name) => refs[name])].find((hex) => hex && roots.has(hex));
  const rootOf = ({ table, refs }: WrittenRow) =>
    (table === 'contact' ? refs.id : (refs.contact_id ?? roots.get(wholeOf(refs) ?? '') ?? refs.record_id)) ??
    refs.company_id ??
    refs.id ??
    '';
  const order = (effect: NetEffect) => (['company', 'site'].includes(effect.row.table) ? 1 : 0);
  for (const effect of [...effects].sort((a, b) => order(a) - order(b))) {
    const hex = rootOf(effect.row);
    const key = hex === '' ? '' : idOfHex(hex);
    records.set(key, [...(records.get(key) ?? []), effect]);
  }
  return records;
}

async function lockSet(w: PersonWork, setId: string): Promise<StoredSet> {
  const [row] = await w.rows<
    Row<'change_set', 'user_id' | 'act' | 'words' | 'at' | 'undoes_id' | 'undone_by_id'>
  >('SELECT user_id, act, words, at, undoes_id, undone_by_id FROM change_set WHERE id = :id FOR UPDATE', {
    id: bytesOf(setId),
  });
  if (!row) throw new Problem('not-found');
  const userId = idOrNull<string>(row.user_id);
  if (userId !== w.who.id && w.who.role === 'rep') throw new Problem('not-found');
  await assertRole(w, row);
  if (row.undone_by_id !== null) throw new Problem('already-done');
  if (Date.parse(w.now) - Date.parse(instantOf(row.at)) > undoDays * 86_400_000)
    throw new Problem('undo-expired');
  return {
    id: setId,
    userId,
    act: row.act,
    words: row.words,
    at: instantOf(row.at),
    undoesId: idOrNull(row.undoes_id),
    undoneById: null,
  };
}

/**
 * Undoing needs the role that the change itself needs; of an undo, that of what it undid. Else whoever lost a role could take it back.
 * @throws Problem `not-allowed`
 */
async function assertRole(w: PersonWork, set: Row<'change_set', 'act' | 'undoes_id'>): Promise<void> {
  for (let at: typeof set | undefined = set; at !== undefined;) {
    if (!mayDo(w.who.role, at.act)) throw new Problem('not-allowed');
    if (at.undoes_id === null) return;
    [at] = await w.rows<typeof set>('SELECT act, undoes_id FROM change_set WHERE id = :id', {
      id: at.undoes_id,
    });
  }
}

/** Whether a role may do an act by the contract; what no request does is everybody's. */
export function mayDo(role: Role, act: string): boolean {
  const access = (routes as Readonly<Record<string, RouteSpec>>)[act]?.access ?? 'anyone';
  return access === 'anyone' || isAtLeast(role, access);
}

/** Parts that stand, last first. Relies on change_set_part. */
async function readParts(w: PersonWork, setId: string): Promise<{ readonly id: string }[]> {
  const rows = await w.rows<Row<'change_set', 'id'>>(
    'SELECT id FROM change_set WHERE parent_id = :id AND undone_by_id IS NULL ORDER BY at, id FOR UPDATE',
    { id: bytesOf(setId) },
  );
  return rows.map((row) => ({ id: idOf(row.id) }));
}

async function markUndone(w: PersonWork, set: StoredSet, parts: readonly { id: string }[]): Promise<void> {
  await takeNoticesBack(w, [set.id, ...parts.map(({ id }) => id)]);
  await w.change('UPDATE change_set SET undone_by_id = :by WHERE id IN (:ids)', {
    by: bytesOf(w.id),
    ids: [set.id, ...parts.map(({ id }) => id)].map((id) => bytesOf(id)),
  });
  // What undid something is undone itself: the first change stands again.
  if (set.undoesId !== null)
    await w.change('UPDATE change_set SET undone_by_id = NULL WHERE id = :id AND undone_by_id = :set', {
      id: bytesOf(set.undoesId),
      set: bytesOf(set.id),
    });
  w.publish({
    kind: 'undone',
    topic: 'change',
    recordId: set.id,
    owners: [set.userId],
    data: { act: set.act },
  });
  w.say($localize`Undone: ${set.words}:words:`.slice(0, 300));
  if (set.userId !== null && set.userId !== w.who.id)
    await notify(
      w,
      'changed',
      [set.userId],
      $localize`${w.who.name}:name: undid what you did: ${set.words}:words:`,
      '/changes',
    );
}

/** Checks first, then writes: rows that went come back, columns go back, rows that came go. */
async function takeBack(
  w: PersonWork,
  effects: readonly NetEffect[],
  sets: readonly string[],
): Promise<void> {
  const rows = await Rows.open(w, w.services.database);
  const undoing = new Undoing(w, rows, effects, sets);
  await undoing.check();
  await undoing.write();
}

/** What happens around a record and does not keep it from going. */
const happenings = new Set([
  'appointment',
  'journal_entry',
  'mail',
  'phone_call',
  'run',
  'stirring',
  'stored_file',
  'talk',
  'task',
  'text_message',
]);

class Undoing {
  private readonly last: readonly NetEffect[];

  constructor(
    private readonly w: PersonWork,
    private readonly rows: Rows,
    private readonly effects: readonly NetEffect[],
    private readonly sets: readonly string[],
  ) {
    this.last = [...effects].reverse();
  }

  async check(): Promise<void> {
    const now = new Map<NetEffect, Image | null>();
    for (const effect of this.effects)
      now.set(effect, await this.rows.read(effect.row.table, effect.row.key));
    for (const [effect, current] of now) await this.checkOne(effect, current);
    await this.checkRights(now);
  }

  private async checkOne(effect: NetEffect, current: Image | null): Promise<void> {
    const { table } = effect.row;
    switch (effect.kind) {
      case 'updated':
        if (current === null || hardColumns(effect).some((name) => current[name] !== effect.became[name]))
          throw await this.changedSince(effect.row);
        return;
      case 'deleted':
        if (current !== null) throw await this.changedSince(effect.row);
        return;
      case 'replaced':
        if (current === null) throw await this.changedSince(effect.row);
        return;
      case 'inserted':
        // History is only marked, whatever was written into it since.
        if (specOf(table)?.removedBy !== undefined) return;
        if (current === null || (await this.later(effect.row)) !== null)
          throw await this.changedSince(effect.row);
        await this.checkReferring(effect.row);
    }
  }

  /** Rows of others that refer to one that would go. */
  private async checkReferring(row: WrittenRow): Promise<void> {
    const going = new Set(
      this.effects
        .filter(({ kind }) => kind === 'inserted' || kind === 'updated')
        .map((each) => `${each.row.table} ${each.row.key}`),
    );
    for (const referring of await this.rows.referring(row.table, row.key)) {
      if (specOf(referring.table) === undefined || happenings.has(referring.table)) continue;
      if (!going.has(`${referring.table} ${referring.key}`)) throw await this.changedSince(referring);
    }
  }

  /**
   * Whoever undoes must be allowed to write onto each record, as it is or as it will be again. What they made themselves, such as a task
   * for a colleague, they may take back as long as nobody wrote onto it.
   */
  private async checkRights(now: ReadonlyMap<NetEffect, Image | null>): Promise<void> {
    const others = await this.w.rows(
      'SELECT 1 FROM change_set WHERE id IN (:sets) AND NOT (user_id <=> :me) LIMIT 1',
      {
        sets: this.sets.map((id) => bytesOf(id)),
        me: bytesOf(this.w.who.id),
      },
    );
    const isOwn = others.length === 0;
    for (const [effect, current] of now) {
      if (isOwn && effect.kind === 'inserted') continue;
      const was = effect.kind === 'updated' ? effect.was : effect.kind === 'inserted' ? null : effect.image;
      const owners = [current, was].flatMap((image) =>
        image !== null && 'owner_id' in image ? [image.owner_id ?? null] : [],
      );
      if (owners.length === 0) continue;
      const may = owners.some((hex) => mayChange(this.w.who, hex === null ? null : idOfHex(hex)));
      if (!may) throw new Problem('not-yours', { owner: $localize`a colleague` });
    }
  }

  /** The newest change of a row by a set that stands, other than these. Relies on change_row_of. */
  private async later(row: Pick<WrittenRow, 'table' | 'key'>): Promise<{ name: string; at: string } | null> {
    const [found] = await this.w.rows<Row<'change_set', 'at'> & { name: string | null }>(
      `SELECT u.name, s.at FROM change_row r JOIN change_set s ON s.id = r.set_id LEFT JOIN app_user u ON u.id = s.user_id
        WHERE r.table_name = :table AND r.row_key = :key AND s.undone_by_id IS NULL AND s.undoes_id IS NULL AND r.set_id NOT IN (:sets)
          AND s.id <> :own AND s.at >= (SELECT MIN(o.at) FROM change_set o WHERE o.id IN (:sets))
        ORDER BY s.at DESC, s.id DESC LIMIT 1`,
      {
        table: row.table,
        key: row.key,
        sets: this.sets.map((id) => bytesOf(id)),
        own: bytesOf(this.w.id),
      },
    );
    return found ? { name: found.name ?? $localize`the system`, at: instantOf(found.at) } : null;
  }

  private async changedSince(row: Pick<WrittenRow, 'table' | 'key'>): Promise<Problem> {
    const by = await this.later(row);
    const what = $localize`the ${nameOf(row.table)}:table:`;
    const why =
      by === null
        ? $localize`${what}:what: was changed since`
        : $localize`${what}:what: was changed by ${by.name}:name: on ${by.at.slice(0, 10)}:slice:`;
    return new Problem('cannot-undo', { why }, { current: { table: row.table, by } });
  }

  async write(): Promise<void> {
    for (const effect of this.last) {
      const { table, key } = effect.row;
      if (effect.kind === 'replaced') await this.rows.remove(table, key);
      if (effect.kind === 'replaced' || effect.kind === 'deleted')
        await this.rows.insert(table, this.counted(effect.image));
    }
    for (const effect of this.last) if (effect.kind === 'updated') await this.putBack(effect);
    const entries: string[] = [];
    for (const effect of inOrderOfLeaving(this.last)) {
      const { table, key } = effect.row;
      const removedBy = specOf(table)?.removedBy;
      if (removedBy === undefined) await this.letGo(effect.row);
      else {
        const current = await this.rows.read(table, key);
        if (current !== null && current[removedBy] === null)
          await this.rows.update(table, key, {
            [removedBy]: this.w.now.slice(0, 23).replace('T', ' '),
          });
        if (table === 'journal_entry') entries.push(idOfHex(JSON.parse(key).id as string));
      }
    }
    await this.tell(entries);
  }

  private counted(image: Image): Image {
    return image.version === undefined || image.version === null
      ? image
      : { ...image, version: String(Number(image.version) + 1) };
  }

  private async putBack(effect: Extract<NetEffect, { kind: 'updated' }>): Promise<void> {
    const { table, key } = effect.row;
    const soft = new Set(specOf(table)?.soft);
    const current = await this.rows.read(table, key);
    const columns = Object.fromEntries(
      Object.entries(effect.was).filter(
        ([name]) => !soft.has(name) || current?.[name] === effect.became[name],
      ),
    );
    if (Object.keys(columns).length > 0) await this.rows.update(table, key, columns);
  }

  /** What happened since, or is kept as history, and named the row names it no more: it belongs to its person alone. */
  private async letGo(row: WrittenRow): Promise<void> {
    for (const referring of await this.rows.referring(row.table, row.key))
      if (happenings.has(referring.table))
        await this.rows.update(referring.table, referring.key, { [referring.column]: null });
    await this.rows.remove(row.table, row.key);
  }

  /** The journal shows that it happened: what the system had noted of the change is said to be undone. */
  private async tell(entryIds: readonly string[]): Promise<void> {
    if (entryIds.length === 0) return;
    const noted = await this.w.rows<Row<'journal_entry', 'body' | 'contact_id' | 'company_id' | 'deal_id'>>(
      `SELECT body, contact_id, company_id, deal_id FROM journal_entry WHERE id IN (:ids) AND kind = 'system' ORDER BY id`,
      { ids: entryIds.map((id) => bytesOf(id)) },
    );
    await writeSystemEntries(
      this.w,
      noted.map((entry) => ({
        id: newId<string>(),
        body: $localize`Undone: ${entry.body}:body:`,
        contactId: idOrNull(entry.contact_id),
        companyId: idOrNull(entry.company_id),
        dealId: idOrNull(entry.deal_id),
        userId: this.w.who.id,
      })),
    );
  }
}

const names: Readonly<Record<string, string>> = {
  sales_lead: 'lead',
  app_user: 'user',
  run: $localize`cadence run`,
};
const nameOf = (table: string) => names[table] ?? table.replaceAll('_', ' ');

export interface SetQuery {
  readonly table: string;
  readonly id: string;
  readonly op?: WrittenRow['op'];
  readonly act?: string;
}

/** The newest change set that stands and wrote a row, for an undo that is asked for by the record. Relies on change_row_of. */
export async function findSet(db: Queryable, { table, id, op, act }: SetQuery): Promise<string | null> {
  const [row] = await db.rows<Row<'change_set', 'id'>>(
    `SELECT s.id FROM change_row r JOIN change_set s ON s.id = r.set_id
      WHERE r.table_name = :table AND r.row_key = :key AND (:op IS NULL OR r.op = :op) AND (:act IS NULL OR s.act = :act)
        AND s.undoes_id IS NULL
      ORDER BY s.undone_by_id IS NOT NULL, s.at DESC, s.id DESC LIMIT 1`,
    { table, key: rowKeyOf(id), op: op ?? null, act: act ?? null },
  );
  return row ? idOf(row.id) : null;
}
