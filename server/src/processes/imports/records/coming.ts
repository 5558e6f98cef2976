import { companyKey, nameKey } from '@kettle/core/duplicates';
import { jsonOf } from '../../../platform/database/values';
import { bytesOf } from '../../../platform/ids';
import * as z from 'zod';
import type { Reading } from '../file-kind';

/** Who and what comes with the files of the same package that are to be written before: nothing of it is here yet. */
export interface Coming {
  readonly emails: ReadonlySet<string>;
  readonly names: ReadonlySet<string>;
  /** How many people come of each company. */
  readonly companies: ReadonlyMap<string, number>;
  readonly deals: ReadonlySet<string>;
}

const nothing: Coming = { emails: new Set(), names: new Set(), companies: new Map(), deals: new Set() };

const text = z.string().catch('');
const person = z.object({ givenName: text, familyName: text, company: text, email: text });
const record = z.object({ values: z.looseObject({ name: text, email: text, person: text, company: text }) });

export async function readComing({ db, stored }: Reading): Promise<Coming> {
  if (stored.packageId === null) return nothing;
  const rows = await db.rows<{ kind: string; draft: unknown }>(
    `SELECT b.kind, r.draft FROM import_batch b JOIN import_row r ON r.import_id = b.id
      WHERE b.package_id = :package AND b.id <> :id AND b.kind IN ('people', 'leads', 'deals') AND b.state = 'judged' AND b.user_id = :user
        AND r.verdict IN ('new', 'likely', 'known') ORDER BY b.id, r.position`,
    { package: bytesOf(stored.packageId), id: bytesOf(stored.id), user: bytesOf(stored.userId) },
  );
  const [emails, names, deals] = [new Set<string>(), new Set<string>(), new Set<string>()];
  const companies = new Map<string, number>();
  for (const row of rows) {
    if (row.kind === 'deals') {
      deals.add(nameKey(record.parse(jsonOf(row.draft)).values.name));
      continue;
    }
    const who =
      row.kind === 'people'
        ? person.parse(jsonOf(row.draft))
        : { givenName: '', familyName: '', ...record.parse(jsonOf(row.draft)).values };
    const name = 'person' in who ? String(who.person) : `${who.givenName} ${who.familyName}`;
    if (who.email !== '') emails.add(who.email.toLowerCase());
    if (nameKey(name) !== '') names.add(nameKey(name));
    if (who.company !== '')
      companies.set(companyKey(who.company), (companies.get(companyKey(who.company)) ?? 0) + 1);
  }
  return { emails, names, companies, deals };
}
