import { contactCategory, customValue } from '@kettle/contract';
import { contactPlain, type ContactPlainKey } from '@kettle/contract/base/catalogues';
import { noPlainDraft, type ContactDraft } from '@kettle/core/imports';
import * as z from 'zod';
import { idOf } from '../../../platform/ids';
import { attempt } from '../../../platform/work/attempt';
import type { PersonWork } from '../../../platform/work/work';
import type { FileKind, Reading } from '../file-kind';
import type { Outcome, PlannedRow } from '../judged-row';
import { changePerson } from './change-people';
import { judgeDrafts, type JudgedPerson } from './judge-people';
import { makePeople } from './make-people';

const text = z.string();
const plain = contactPlain.each((_, field) =>
  field.type === 'choice' ? z.enum(['', ...(field.choices ?? [])]) : text,
) as unknown as { [Key in ContactPlainKey]: z.ZodType<ContactDraft[Key]> };
/** A row of a file as it is kept until it is written. */
const storedDraft = z.object({
  ...{ line: z.int(), givenName: text, familyName: text, company: text, email: text, phone: text },
  ...{ country: text, city: text, street: text, postcode: text, website: text },
  ...{ standing: text, note: text, owner: text, tags: z.array(text) },
  // Rows of a file that was read before these could be said have none.
  ...{ zone: text.default(''), category: contactCategory.default('person') },
  checkInDays: z.int().nullable().default(null),
  ...plain,
  custom: z.record(text, customValue),
}) satisfies z.ZodType<ContactDraft>;

/** A row that could not be read. */
export const nobody: ContactDraft = {
  ...{ line: 0, givenName: '', familyName: '', company: '', email: '', phone: '' },
  ...{ country: '', city: '', street: '', postcode: '', website: '', standing: '', note: '' },
  ...noPlainDraft,
  ...{ tags: [], owner: '', zone: '', category: 'person', checkInDays: null, custom: {} },
};

/** People and the companies they are at. */
export const people: FileKind = {
  rowsAtOnce: 250,
  heads: () => [$localize`name`, $localize`company`, $localize`e-mail`, $localize`phone`],
  cells: (draft) => {
    const { givenName, familyName, company, email, phone } = storedDraft.parse(draft);
    return [`${givenName} ${familyName}`.trim(), company, email, phone];
  },
  write: writePeople,
};

async function writePeople(
  w: PersonWork,
  reading: Reading,
  rows: readonly PlannedRow[],
): Promise<ReadonlyMap<number, Outcome>> {
  const { stored } = reading;
  const drafts = new Map(rows.map(({ line, draft }) => [line, storedDraft.parse(draft)]));
  // Somebody else may have written the same people since the file was read.
  const judged = await judgeDrafts(
    w,
    [...drafts.values()].map((draft) => ({ draft, problems: [] })),
    stored.id,
  );
  const now = new Map(judged.map((row) => [row.line, row]));
  const outcomes = new Map<number, Outcome>(rows.map(({ line }) => [line, null]));
  const made = rows.filter((row) => isMade(row, now.get(row.line)!, stored.withLikely));
  await makePeople(
    w,
    stored,
    made.map(({ line }) => drafts.get(line)!),
  );
  for (const { line } of made) outcomes.set(line, 'made');
  for (const row of rows) {
    const known = now.get(row.line)!;
    const recordId = known.recordId ?? row.recordId;
    if (row.plan !== 'change' || recordId === null) continue;
    const refused = await attempt(w, async () => {
      const isChanged = await changePerson(w, reading, idOf<string>(recordId), drafts.get(row.line)!);
      outcomes.set(row.line, isChanged ? 'changed' : null);
    });
    if (refused !== null) outcomes.set(row.line, { refused: refused.message });
  }
  return outcomes;
}

const isMade = ({ plan, isAsked }: PlannedRow, { verdict }: JudgedPerson, withLikely: boolean): boolean =>
  plan === 'make' && (verdict === 'new' || (verdict === 'likely' && (isAsked || withLikely)));
