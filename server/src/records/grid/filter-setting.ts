import type { CustomSubject } from '@kettle/contract';
import type { Services } from '../../platform/services';
import { readCustomFields } from '../fields/index';
import type { SignedIn } from '../users/index';
import type { FilterSetting } from './grid-sql';

/** What filters need to know: the reader, their day, and the custom fields when one is asked for. */
export async function filterSetting(
  { database, settings }: Services,
  query: { filter?: unknown; sort?: readonly { field: string }[] | undefined; group?: string | undefined },
  { who, today, subject }: { who: SignedIn; today: string; subject: CustomSubject | null },
): Promise<FilterSetting> {
  const asked = JSON.stringify([query.filter ?? null, query.sort ?? null, query.group ?? null]);
  const { organisation } = await settings.read(database);
  const asksCustom = subject !== null && asked.includes('custom:');
  const fields = asksCustom ? await readCustomFields(database, subject) : [];
  return { who, today, currency: organisation.currency, fields };
}
