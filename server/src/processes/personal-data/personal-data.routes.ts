import type { ContactId, PersonalData } from '@kettle/contract';
import { saidNow } from '../../platform/language/language';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { instantOf } from '../../platform/database/values';
import type { Call, Handlers } from '../../platform/http/bind-routes';
import { bytesOf, idOf, idOrNull } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { work, writingAt } from '../../platform/work/work';
import { noteSecurity } from '../../records/security/index';
import { readFileBytes } from '../../records/files/index';
import { changeSetting } from '../../records/settings/index';
import { collectPerson } from './collect';
import { erasePerson, keptOf } from './erase';
import { places, sayPlaces } from './places';
import { jsonOfPerson, pageOfPerson } from './write-file';

type Names =
  | 'personalData'
  | 'exportPersonalData'
  | 'erasePerson'
  | 'dataPlaces'
  | 'retentionSettings'
  | 'changeRetentionSettings';

export function personalDataRoutes(services: Services): Pick<Handlers, Names> {
  const { database, settings } = services;
  return {
    personalData: ({ params }) => readPersonalData(services, params.id),
    exportPersonalData: (call) => exportPerson(services, call),
    erasePerson: async ({ params, body, who }) => {
      const words = await work(services, who, async (w) => {
        const person = await readPerson(w, params.id);
        if (person.version !== body.version) throw new Problem('stale');
        if (body.name !== person.display_name) {
          const message = $localize`is not “${person.display_name}:displayname:”: type the name as it is written`;
          throw new Problem('invalid-request', {}, { fields: [{ path: 'name', message }] });
        }
        await erasePerson(w, params.id);
        return $localize`What was held of them is erased.`;
      });
      return { words };
    },
    dataPlaces: async () => ({ places: sayPlaces((await settings.read(database)).retention) }),
    retentionSettings: async () => (await settings.read(database)).retention,
    changeRetentionSettings: ({ body, who }) => changeSetting(services, who, { name: 'retention', body }),
  };
}

type Person = Row<'contact', 'display_name' | 'version' | 'company_id'>;

/** @throws Problem `not-found` */
async function readPerson(db: Queryable, id: string): Promise<Person> {
  const [person] = await db.rows<Person>(
    'SELECT display_name, version, company_id FROM contact WHERE id = :id',
    {
      id: bytesOf(id),
    },
  );
  if (!person) throw new Problem('not-found');
  return person;
}

async function readPersonalData({ database }: Services, contactId: ContactId): Promise<PersonalData> {
  const person = await readPerson(database, contactId);
  const collected = await database.transaction((tx) => collectPerson(tx, database, contactId));
  return {
    name: person.display_name ?? '',
    version: person.version,
    held: [...collected].map(([table, rows]) => ({
      table,
      words: saidNow(places[table]?.words ?? table),
      count: rows.length,
    })),
    kept: await keptOf(database, contactId),
    mentions: await readMentions(database, contactId, person),
  };
}

/** Notes about others at the same company, or on a deal they are in, that name them. */
async function readMentions(
  db: Queryable,
  contactId: string,
  person: Person,
): Promise<PersonalData['mentions']> {
  const rows = await db.rows<
    Row<'journal_entry', 'id' | 'contact_id' | 'at'> & { name: string | null; opening: string }
  >(
    `SELECT e.id, e.contact_id, e.at, c.display_name AS name, LEFT(e.body, 200) AS opening
       FROM journal_entry e LEFT JOIN contact c ON c.id = e.contact_id
      WHERE (e.company_id = :company OR e.deal_id IN (SELECT deal_id FROM deal_person WHERE contact_id = :id
              UNION SELECT id FROM deal WHERE contact_id = :id))
        AND (e.contact_id IS NULL OR e.contact_id <> :id) AND e.body LIKE :name
      ORDER BY e.at DESC, e.id DESC LIMIT 50`,
    {
      id: bytesOf(contactId),
      company: person.company_id,
      name: `%${(person.display_name ?? '').replace(/[%_\\]/g, '\\$&')}%`,
    },
  );
  return rows.map((row) => ({
    entryId: idOf(row.id),
    contactId: idOrNull(row.contact_id),
    contactName: row.name ?? $localize`a deal`,
    at: instantOf(row.at),
    opening: row.opening,
  }));
}

/** Sends all of it as a file; that it was taken out is on record. */
async function exportPerson(
  services: Services,
  { params, query, who, response }: Call<'exportPersonalData'>,
): Promise<'answered'> {
  const { database, clock } = services;
  const person = await readPerson(database, params.id);
  const collected = await database.transaction((tx) => collectPerson(tx, database, params.id));
  await noteSecurity(writingAt(database, clock.now()), {
    kind: 'exported',
    userId: who.id,
    data: { what: $localize`a person’s data`, count: 1 },
  });
  const isJson = query.as === 'json';
  response
    .set('Content-Disposition', `attachment; filename="personal-data.${isJson ? 'json' : 'html'}"`)
    .set('Cache-Control', 'no-store')
    .type(isJson ? 'application/json; charset=utf-8' : 'text/html; charset=utf-8');
  if (!isJson) response.send(pageOfPerson(collected, person.display_name ?? '', clock.now()));
  else {
    for await (const part of jsonOfPerson(collected, clock.now(), (id) => readFileBytes(database, id)))
      response.write(part);
    response.end();
  }
  return 'answered';
}
