import * as z from 'zod';
import { gridCount, gridExport, grouping } from '../base/grid';
import { contactId } from '../base/ids';
import { cardFiles, listFiles } from '../base/list-files';
import { byId, nothing, type RouteSpec } from '../base/route';
import { saveStandings } from '../settings';
import {
  changeCell,
  changeContact,
  contact,
  contactPage,
  contactQuery,
  contactRow,
  countContacts,
  createContact,
  handOver,
  listContacts,
  standingCount,
} from './schemas';

export const contactsRoutes = {
  listContacts: {
    access: 'rep',
    summary: 'Search and page through contacts',
    query: listContacts,
    reply: contactPage,
  },
  createContact: { access: 'rep', summary: 'Add a contact', body: createContact, reply: contact },
  getContact: {
    access: 'rep',
    summary: 'One contact',
    params: byId.extend({ id: contactId }),
    reply: contact,
  },
  changeContact: {
    access: 'rep',
    summary: 'Change a contact',
    params: byId.extend({ id: contactId }),
    body: changeContact,
    reply: contact,
  },
  countContacts: {
    access: 'rep',
    summary: 'How many contacts a view finds, and how many there are',
    query: countContacts,
    reply: gridCount,
  },
  exportContacts: {
    access: 'rep',
    perHour: 30,
    summary: 'A view as a file: the columns named, in order, or a card of each',
    query: contactQuery.extend({
      ...gridExport(contactId),
      as: z.enum([...listFiles, ...cardFiles]).default('csv'),
      group: grouping.optional(),
    }),
    reply: nothing,
  },
  changeCell: {
    access: 'rep',
    summary: 'Change one field of a contact',
    params: byId.extend({ id: contactId }),
    body: changeCell,
    reply: contactRow,
  },
  claimContact: {
    access: 'rep',
    summary: 'Take a contact from the pool',
    params: byId.extend({ id: contactId }),
    // Only what is nobody’s is taken; whoever comes late is told who was first.
    refersTo: ['params.id'],
    reply: contactRow,
  },
  handOver: {
    access: 'rep',
    summary: 'Give a contact to a colleague or back to the pool',
    params: byId.extend({ id: contactId }),
    body: handOver,
    reply: contactRow,
  },
  listTags: {
    access: 'rep',
    summary: 'Tags in use',
    reply: z.object({ tags: z.array(z.object({ tag: z.string(), count: z.int() })) }),
  },
  saveStandings: {
    access: 'admin',
    summary: 'Change the standings, their order and intervals',
    body: saveStandings,
    reply: z.object({ standings: z.array(standingCount) }),
  },
  listStandings: {
    access: 'rep',
    summary: 'Standings, with how many people of a view are due and all in each',
    query: contactQuery.omit({ standing: true }),
    reply: z.object({ standings: z.array(standingCount) }),
  },
} as const satisfies Record<string, RouteSpec>;
