import type { ContactRow, CustomField, GridFieldKey } from '@kettle/contract';
import { contactPlain, type ContactPlainGridKey } from '@kettle/contract/base/catalogues';
import { gridFields } from '@kettle/contract';
import { sayCustomValue } from '@kettle/core/fields';
import { writeCsv } from '@kettle/core/imports';
import type { Call } from '../../platform/http/bind-routes';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { readCustomFields } from '../fields/index';
import { isAtLeast } from '@kettle/core/rights';
import { writingAt } from '../../platform/work/work';
import { noteSecurity } from '../security/index';
import { todayOf } from '../users/index';
import { readableContacts } from './readable-contacts';
import { readContactRows } from './contact-rows';
import { filterSetting, readContactIds } from './list-contacts';
import { readStandings } from '../settings/index';

const rowsAtOnce = 1000;
const mostRows = 200_000;
const usualColumns = 'name,company,job-title,email,phone,country,standing,owner,source,tags';

/** Sends a view as a CSV file, its columns in their order. */
export async function exportContacts(
  services: Services,
  { query, who, response }: Call<'exportContacts'>,
): Promise<'answered'> {
  const { database } = services;
  const setting = await filterSetting(database, query, who, todayOf(services, who));
  const fields = await readCustomFields(database, 'contact');
  const { organisation, rights } = await services.settings.read(database);
  if (!isAtLeast(who.role, rights.exports)) throw new Problem('not-allowed');
  const standings = new Map((await readStandings(database)).map((standing) => [standing.id, standing.name]));
  const columns = (query.columns || usualColumns)
    .split(',')
    .flatMap((key) => columnOf(key, fields, standings, organisation.currency) ?? []);
  const ids = query.ids
    ? await readableContacts(
        database,
        who,
        query.ids.map((id) => bytesOf(id)),
      )
    : await readContactIds(database, query, setting, mostRows);
  await noteSecurity(writingAt(database, services.clock.now()), {
    kind: 'exported',
    userId: who.id,
    data: { what: 'people', count: ids.length },
  });
  response
    .set('Content-Disposition', 'attachment; filename="people.csv"')
    .set('Cache-Control', 'no-store')
    .type('text/csv; charset=utf-8');
  const header = columns.flatMap((column) => column.names);
  for (let from = 0; from === 0 || from < ids.length; from += rowsAtOnce) {
    const rows = await readContactRows(database, ids.slice(from, from + rowsAtOnce));
    const text = writeCsv(
      header,
      rows.map((row) => columns.flatMap((column) => column.say(row))),
    );
    response.write(from === 0 ? text : text.slice(text.indexOf('\r\n') + 2));
  }
  response.end();
  return 'answered';
}

interface Column {
  readonly names: readonly string[];
  readonly say: (row: ContactRow) => readonly string[];
}

function columnOf(
  key: string,
  fields: readonly CustomField[],
  standings: ReadonlyMap<ContactRow['standingId'], string>,
  currency: string,
): Column | null {
  const custom = fields.find((field) => `custom:${field.id}` === key);
  if (custom)
    return {
      names: [custom.name],
      say: (row) => [sayCustomValue(row.custom[custom.id], custom.type, currency)],
    };
  if (!(key in gridFields)) return null;
  const known = key as GridFieldKey;
  const one = (say: (row: ContactRow) => string | null): Column => ({
    names: [gridFields[known].name],
    say: (row) => [say(row) ?? ''],
  });
  const plain = contactPlain.keys.find((each) => contactPlain.of(each).grid === known);
  if (plain !== undefined) return one((row) => row[plain]);
  switch (known as Exclude<GridFieldKey, ContactPlainGridKey>) {
    case 'name':
      return one((row) => row.name);
    case 'company':
      return one((row) => row.companyName);
    case 'standing':
      return one((row) => standings.get(row.standingId) ?? '');
    case 'owner':
      return one((row) => row.ownerName);
    case 'last-touch':
      return one((row) => row.tether.lastTouchAt);
    case 'next-step':
      return one((row) => row.tether.nextStepOn);
    case 'check-in':
      return one((row) => row.checkInDueOn);
    case 'last-conversation':
      return one((row) => row.lastConversationAt);
    case 'created':
      return one((row) => row.createdAt);
    case 'tags':
      return one((row) => row.tags.join(', '));
    case 'email':
    case 'phone':
    case 'country':
    case 'zone':
    case 'category':
      return one((row) => row[known as 'email' | 'phone' | 'country' | 'zone' | 'category']);
  }
}
