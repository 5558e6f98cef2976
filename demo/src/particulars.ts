import { addDays } from '@kettle/core/time';
import type { SqlValue } from '@kettle/server/platform/database/database';
import { sqlInstant } from '@kettle/server/platform/database/values';
import { notify } from '@kettle/server/records/notifications/index';
import { bytesOf, idOf, newId, type IdBytes } from '@kettle/server/platform/ids';
import type { Work } from '@kettle/server/platform/work/work';

/** What a firm of this trade would keep beside the usual: fields of its own. */
const fields = [
  ['Softeners installed', 'number', []],
  ['Water source', 'choice', ['mains', 'borehole', 'river']],
  ['Last inspection', 'date', []],
] as const;
const tags = ['steam', 'spa', 'audit due', 'open day', 'two shifts'];
const warmths = ['hot', 'warm', 'cool', null, null] as const;
const sources = ['mains', 'borehole', 'mains', 'river'];

/** Works beside the main site, for firms that have one: name of the firm, of the site, town, country, zone. */
const sites = [
  ['Copper Line Laundry', 'Linen store', 'Corrieford', 'GB', 'Europe/London'],
  ['Wasserij Baan', 'Depot', 'Porto', 'PT', 'Europe/Lisbon'],
] as const;

/** Fields, tags, warmth, sites, a comment that waits and a shared view, by each contact's place in the scenario. */
export async function writeParticulars(
  tx: Work,
  contactIds: readonly string[],
  users: readonly string[],
  today: string,
  now: string,
): Promise<void> {
  const fieldIds = fields.map(() => bytesOf(newId<string>()));
  await tx.change('INSERT INTO custom_field (id, subject, name, type, choices, position) VALUES :rows', {
    rows: fields.map(([name, type, choices], index) => [
      fieldIds[index]!,
      'contact',
      name,
      type,
      JSON.stringify(choices),
      index,
    ]),
  });
  const rowsOf = (pick: (id: Buffer, n: number) => SqlValue[] | null) =>
    contactIds.flatMap((id, n) => {
      const row = pick(bytesOf(id), n);
      return row === null ? [] : [row];
    });
  const [softeners, source, inspection] = fieldIds as [Buffer, Buffer, Buffer];
  await tx.change('INSERT INTO custom_value (record_id, field_id, number_value) VALUES :rows', {
    rows: rowsOf((id, n) => (n % 3 === 0 ? [id, softeners, 1 + (n % 4)] : null)),
  });
  await tx.change('INSERT INTO custom_value (record_id, field_id, text_value) VALUES :rows', {
    rows: rowsOf((id, n) => (n % 2 === 0 ? [id, source, sources[n % 4]!] : null)),
  });
  await tx.change('INSERT INTO custom_value (record_id, field_id, date_value) VALUES :rows', {
    rows: rowsOf((id, n) => (n % 5 === 0 ? [id, inspection, addDays(today, -20 - n)] : null)),
  });
  await tx.change('INSERT INTO contact_tag (contact_id, tag) VALUES :rows', {
    rows: rowsOf((id, n) => (n % 4 < 2 ? [id, tags[n % tags.length]!] : null)),
  });
  for (const [n, id] of contactIds.entries())
    await tx.change('UPDATE contact SET warmth = :warmth WHERE id = :id', {
      id: bytesOf(id),
      warmth: warmths[n % warmths.length]!,
    });
  for (const [firm, name, city, country, zone] of sites)
    await tx.change(
      `INSERT INTO site (id, company_id, name, city, country, zone, position)
       SELECT :id, co.id, :name, :city, :country, :zone, 0 FROM company co WHERE co.name = :firm`,
      { id: bytesOf(newId<string>()), firm, name, city, country, zone },
    );
  await writeComment(tx, users, now);
  await tx.change(
    "INSERT INTO saved_view (id, user_id, place, name, query, is_shared) VALUES (:id, :user, 'people', :name, :query, TRUE)",
    {
      id: bytesOf(newId<string>()),
      user: bytesOf(users[4]!),
      name: 'Customers not spoken to for 60 days',
      query: new URLSearchParams({
        sort: '-last-touch',
        filter: JSON.stringify({
          join: 'all',
          rules: [
            { field: 'last-conversation', ask: 'not-within-past', value: 60 },
            { field: 'owner', ask: 'filled' },
          ],
        }),
      }).toString(),
    },
  );
}

/** The manager asks about the newest conversation with Maud Ellery, and the rep who had it is told. */
async function writeComment(tx: Work, users: readonly string[], now: string): Promise<void> {
  const [entry] = await tx.rows<{ id: IdBytes; contact_id: IdBytes }>(
    `SELECT j.id, j.contact_id FROM journal_entry j JOIN contact c ON c.id = j.contact_id
      WHERE c.family_name = 'Ellery' AND j.counts = 'conversation' ORDER BY j.at DESC, j.id LIMIT 1`,
  );
  const [rep, , , , manager] = users;
  if (!entry || !rep || !manager) return;
  const body = '@Imogen can we show her the second softener while she is warm?';
  await tx.change(
    'INSERT INTO entry_comment (id, entry_id, user_id, body, created_at) VALUES (:id, :entry, :user, :body, :now)',
    { id: bytesOf(newId<string>()), entry: entry.id, user: bytesOf(manager), body, now: sqlInstant(now) },
  );
  await notify(
    tx,
    'mention',
    [rep],
    `Corin Vale on Maud Ellery: ${body}`,
    `/people/${idOf<string>(entry.contact_id)}`,
  );
}

/** What is asked of whoever inquires: some have said it already. */
export async function writeLeadFields(tx: Work): Promise<void> {
  const field = bytesOf(newId<string>());
  await tx.change('INSERT INTO custom_field (id, subject, name, type, choices, position) VALUES :rows', {
    rows: [[field, 'lead', 'Water a day, m³', 'number', '[]', 0]],
  });
  await tx.change(
    `INSERT INTO custom_value (record_id, field_id, number_value)
     SELECT l.id, :field, 2 + 3 * (l.n % 9)
       FROM (SELECT id, ROW_NUMBER() OVER (ORDER BY subject, id) AS n FROM sales_lead) l WHERE l.n % 3 > 0`,
    { field },
  );
}
