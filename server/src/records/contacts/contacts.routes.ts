import type { ContactQuery } from '@kettle/contract';
import { contactIdOf } from './merged-ids';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import { bytesOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { writeSystemEntry } from '../entries/index';
import { type SignedIn, todayOf } from '../users/index';
import { addContact, changeContact, giveTo, writeCell } from './change-contact';
import { readContact, readContactRow } from './contact-rows';
import { filterSetting, listRoutes } from '../grid/index';
import { contactsList, TotalContacts } from './list-contacts';
import { saveStandings } from '../settings/index';
import { countStandings } from './count-standings';
import { assertReadable, reachParameters, withinReach } from '../rights/index';
import { work } from '../../platform/work/work';
import type { Row } from '../../platform/database/schema.generated';

type Names =
  | 'listContacts'
  | 'countContacts'
  | 'exportContacts'
  | 'createContact'
  | 'getContact'
  | 'changeContact'
  | 'changeCell'
  | 'claimContact'
  | 'handOver'
  | 'listTags'
  | 'listStandings'
  | 'saveStandings';

export function contactsRoutes(services: Services): Pick<Handlers, Names> {
  const { database, clock } = services;
  const totals = new TotalContacts();

  const list = listRoutes(services, contactsList);
  const standingsOf = async (query: Omit<ContactQuery, 'standing'>, who: SignedIn) => {
    const setting = { who, today: todayOf(services, who), subject: contactsList.subject };
    return countStandings(database, query, await filterSetting(services, query, setting));
  };

  return {
    listContacts: list.page,
    countContacts: async ({ query, who }) => {
      const isAll =
        !query.q &&
        query.owner === 'all' &&
        [query.standing, query.quiet, query.filter, query.group].every((asked) => asked === undefined);
      if (!isAll) return list.count({ query, who });
      const total = await totals.read(database, who, query.archived, clock.millis());
      return { found: total, total, sums: {}, groups: [] };
    },
    exportContacts: list.export,
    getContact: async ({ params, who }) => {
      const id = await contactIdOf(database, params.id);
      if (id !== params.id) await assertReadable(database, who, id, ['contact']);
      return readContact(database, id);
    },
    createContact: async ({ body, who }) => {
      const id = await work(services, who, (w) => addContact(w, body));
      totals.forget();
      return readContact(database, id);
    },
    changeContact: async ({ params, body, who }) => {
      await work(services, who, (w) => changeContact(w, params.id, body));
      return readContact(database, params.id);
    },
    changeCell: async ({ params, body, who }) => {
      await work(services, who, async (w) => {
        const before = await readContact(w, params.id);
        // Of a cell only its own field is sent: another's change of another field is no hindrance.
        if (before.version !== body.version && body.field === 'ownerId')
          throw new Problem('stale', {}, { current: before });
        await writeCell(w, before, body, body.version);
      });
      return readContactRow(database, params.id);
    },
    claimContact: async ({ params, who }) => {
      await work(services, who, async (w) => {
        const claimed = await w.change(
          'UPDATE contact SET owner_id = :me, version = version + 1 WHERE id = :id AND owner_id IS NULL',
          { me: bytesOf(who.id), id: bytesOf(params.id) },
        );
        const now = await readContactRow(w, params.id);
        if (claimed === 0 && now.ownerId !== who.id)
          throw new Problem('already-claimed', { owner: now.ownerName ?? 'Somebody' }, { current: now });
        if (claimed === 0) return;
        w.say($localize`${now.name}:name: claimed`);
        const entry = {
          body: $localize`Owner: nobody → ${who.name}:name:`,
          contactId: params.id,
          userId: who.id,
        };
        await writeSystemEntry(w, { ...entry });
      });
      return readContactRow(database, params.id);
    },
    handOver: async ({ params, body, who }) => {
      await work(services, who, async (w) => {
        const before = await readContact(w, params.id);
        if (before.version !== body.version) throw new Problem('stale', {}, { current: before });
        await giveTo(w, before, body.ownerId);
      });
      return readContactRow(database, params.id);
    },
    listTags: async ({ who }) => {
      const rows = await database.rows<Row<'contact_tag', 'tag'> & { count: string }>(
        `SELECT used.tag, COUNT(*) AS count FROM (
            SELECT t.tag FROM contact_tag t JOIN contact c ON c.id = t.contact_id WHERE ${withinReach(who, 'contact', 'c')}
            UNION ALL
            SELECT t.tag FROM lead_tag t JOIN sales_lead l ON l.id = t.lead_id WHERE ${withinReach(who, 'lead', 'l')}
          ) used GROUP BY used.tag ORDER BY count DESC, used.tag LIMIT 200`,
        reachParameters(who),
      );
      return { tags: rows.map((row) => ({ tag: row.tag, count: Number(row.count) })) };
    },
    listStandings: async ({ query, who }) => ({ standings: await standingsOf(query, who) }),
    saveStandings: async ({ who, body }) => {
      await saveStandings(services, who, body);
      return { standings: await standingsOf({ q: '', owner: 'all' }, who) };
    },
  };
}
