import { specOf } from '../../platform/database/tables';
import type { Image, WrittenRow } from '../../platform/work/written';

/** What a change set did to one row in the end. */
export type NetEffect =
  | { readonly kind: 'inserted'; readonly row: WrittenRow }
  | { readonly kind: 'deleted'; readonly row: WrittenRow; readonly image: Image }
  /** Deleted, and inserted again under the same key. */
  | { readonly kind: 'replaced'; readonly row: WrittenRow; readonly image: Image }
  | { readonly kind: 'updated'; readonly row: WrittenRow; readonly was: Image; readonly became: Image };

/**
 * What rows written one after another come to, row by row, in the order in which each was written last. A row that came and went, and
 * one that is as it was, leave nothing.
 * @example
 * netEffects([insert(task), update(task), delete(task)]); // []
 */
export function netEffects(rows: readonly WrittenRow[]): NetEffect[] {
  const byKey = new Map<string, WrittenRow[]>();
  for (const row of rows) {
    const key = `${row.table} ${row.key}`;
    const known = byKey.get(key) ?? [];
    // A row that is written again stands where it was written last.
    byKey.delete(key);
    byKey.set(key, [...known, row]);
  }
  return [...byKey.values()].flatMap((list) => effectOf(list) ?? []);
}

function effectOf(rows: readonly WrittenRow[]): NetEffect | null {
  const first = rows[0]!;
  const last = rows.at(-1)!;
  const existed = first.op !== 'insert';
  const exists = last.op !== 'delete';
  if (!existed) return exists ? { kind: 'inserted', row: last } : null;
  const gone = rows.findIndex(({ op }) => op === 'delete');
  if (gone === -1) return updateOf(rows, last);
  const image = rows
    .slice(0, gone)
    .reduceRight<Image>((whole, { was }) => ({ ...whole, ...was }), rows[gone]!.was ?? {});
  return exists ? { kind: 'replaced', row: last, image } : { kind: 'deleted', row: last, image };
}

function updateOf(rows: readonly WrittenRow[], row: WrittenRow): NetEffect | null {
  const was: Record<string, string | null> = {};
  const became: Record<string, string | null> = {};
  for (const each of rows)
    for (const [column, value] of Object.entries(each.became ?? {})) {
      if (!(column in was)) was[column] = each.was?.[column] ?? null;
      became[column] = value;
    }
  const changed = Object.keys(was).filter((name) => name !== 'version' && was[name] !== became[name]);
  const only = (image: Image) => Object.fromEntries(changed.map((name) => [name, image[name] ?? null]));
  return changed.length === 0 ? null : { kind: 'updated', row, was: only(was), became: only(became) };
}

/** The columns an undo holds against what there is now; soft ones only follow. */
export function hardColumns(effect: Extract<NetEffect, { kind: 'updated' }>): string[] {
  const soft = new Set(specOf(effect.row.table)?.soft);
  return Object.keys(effect.became).filter((column) => !soft.has(column));
}

/**
 * Rows that came, in an order in which they can go: what refers to a row goes before it, however often either was written since.
 * @example [company, person of the company, company written again]: the person goes first
 */
export function inOrderOfLeaving(effects: readonly NetEffect[]): NetEffect[] {
  const came = effects.filter(({ kind }) => kind === 'inserted');
  const referring = new Map<string, NetEffect[]>();
  for (const effect of came)
    for (const [column, id] of Object.entries(effect.row.refs))
      if (column !== 'id' && id) referring.set(id, [...(referring.get(id) ?? []), effect]);
  const ordered = new Set<NetEffect>();
  const visited = new Set<NetEffect>();
  const leave = (effect: NetEffect) => {
    if (visited.has(effect)) return;
    visited.add(effect);
    for (const other of referring.get(effect.row.refs.id ?? '') ?? []) leave(other);
    ordered.add(effect);
  };
  came.forEach(leave);
  return [...ordered];
}
