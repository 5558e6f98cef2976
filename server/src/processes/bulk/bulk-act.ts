import { sayCount } from '@kettle/core/locale';
import type { BulkAct, CellField, CellValue, Contact, ContactRow } from '@kettle/contract';
import { cellLabel } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { idOf } from '../../platform/ids';
import { readCustomFields } from '../../records/fields/index';
import { cellOf, sayCell, writeCell } from '../../records/contacts/index';
import { readStandings } from '../../records/settings/index';
import { insertTasks, promisedInstant } from '../../activity/tasks/index';
import { type PersonWork } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

/** What one contact would become: a field's new value, or a task. */
export interface Step {
  readonly isSame: boolean;
  readonly before: CellValue;
  readonly after: CellValue;
  readonly field: CellField | null;
}

/** What an act does to one contact. */
export function stepFor(contact: ContactRow, act: BulkAct): Step {
  switch (act.kind) {
    case 'set': {
      const before = cellOf(contact, act.field);
      return { field: act.field, before, after: act.value, isSame: sameValue(before, act.value) };
    }
    case 'add-tag':
    case 'remove-tag': {
      const tag = act.tag.toLowerCase();
      const after =
        act.kind === 'add-tag'
          ? [...new Set([...contact.tags, tag])].sort()
          : contact.tags.filter((each) => each !== tag);
      return { field: 'tags', before: contact.tags, after, isSame: sameValue(contact.tags, after) };
    }
    case 'task':
      return { field: null, before: null, after: act.purpose, isSame: false };
  }
}

export function sameValue(one: CellValue, other: CellValue): boolean {
  const plain = (value: CellValue) => JSON.stringify(Array.isArray(value) ? [...value].sort() : value);
  return plain(one) === plain(other);
}

/** Carries a step out for one contact; a task is made under the bulk's id, so that undo finds it. */
export async function carryOut(w: PersonWork, contact: Contact, act: BulkAct, bulkId: string): Promise<void> {
  const step = stepFor(contact, act);
  if (step.field !== null) return writeCell(w, contact, { field: step.field, value: step.after });
  if (act.kind !== 'task') return;
  const { channel, purpose, dueOn, minutes } = act;
  await insertTasks(w, [
    {
      channel,
      purpose,
      dueOn,
      minutes,
      promisedAt: promisedInstant(act, w.who),
      ownerId: act.ownerId ?? contact.ownerId ?? w.who.id,
      madeBy: w.who.id,
      contactId: contact.id,
      companyId: contact.companyId,
      dealId: null,
      bulkId,
      run: null,
    },
  ]);
}

/** Names for values that are ids, for people to read. */
export interface Speech {
  say(value: CellValue): string;
  words(act: BulkAct, count: number): string;
}

export async function speechOf(db: Queryable): Promise<Speech> {
  const names = new Map<string, string>(
    (await readStandings(db)).map((standing) => [standing.id, standing.name]),
  );
  for (const row of await db.rows<Row<'app_user', 'id' | 'name'>>(
    'SELECT id, name FROM app_user ORDER BY id',
  ))
    names.set(idOf(row.id), row.name);
  const fields = new Map(
    (await readCustomFields(db, 'contact', true)).map((field) => [`custom:${field.id}`, field.name]),
  );
  const say = (value: CellValue) => sayCell(value, names) || 'empty';
  return {
    say,
    words: (act, count) => {
      const whom = sayCount(count, 'contact|contacts');
      switch (act.kind) {
        case 'set': {
          const label = fields.get(act.field) ?? cellLabel[act.field as keyof typeof cellLabel];
          return $localize`${label}:label: of ${whom}:whom:: ${say(act.value)}:value:`;
        }
        case 'add-tag':
          return $localize`tag “${act.tag}:tag:” for ${whom}:whom:`;
        case 'remove-tag':
          return $localize`tag “${act.tag}:tag:” taken from ${whom}:whom:`;
        case 'task':
          return $localize`task “${act.purpose}:purpose:” with ${whom}:whom:`;
      }
    },
  };
}
