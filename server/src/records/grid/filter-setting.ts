import type { CustomSubject } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import { readCustomFields } from '../fields/index';
import type { SignedIn } from '../users/index';
import type { FilterSetting } from './grid-sql';

/** What filters need to know: the reader, their day, and the custom fields when one is asked for. */
export async function filterSetting(
  db: Queryable,
  query: { filter?: unknown; sort?: readonly { field: string }[] | undefined; group?: string | undefined },
  { who, today, subject }: { who: SignedIn; today: string; subject: CustomSubject | null },
): Promise<FilterSetting> {
  const asked = JSON.stringify([query.filter ?? null, query.sort ?? null, query.group ?? null]);
  const asksCustom = subject !== null && asked.includes('custom:');
  return { who, today, fields: asksCustom ? await readCustomFields(db, subject) : [] };
}
