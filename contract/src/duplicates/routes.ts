import * as z from 'zod';
import { mergeId } from '../base/ids';
import { byId, ok, type RouteSpec } from '../base/route';
import { similarContact, similarTo, likelyPairs, mergeContacts, mergeList, merged, pairIds } from './schemas';

export const duplicatesRoutes = {
  similarContacts: {
    access: 'rep',
    summary: 'Who is likely the same as somebody being typed in, with evidence',
    body: similarTo,
    refersTo: ['body.except'],
    reply: z.object({ like: z.array(similarContact) }),
  },
  listPairs: { access: 'rep', summary: 'Contacts that are likely the same', reply: likelyPairs },
  dismissPair: {
    access: 'rep',
    summary: 'Two contacts are two people',
    body: pairIds,
    refersTo: ['body'],
    reply: ok,
  },
  mergeContacts: {
    access: 'rep',
    summary: 'Make two contacts one, field by field',
    body: mergeContacts,
    reply: merged,
  },
  listMerges: { access: 'rep', summary: 'Merges of the last 30 days', reply: mergeList },
  undoMerge: {
    access: 'rep',
    summary: 'Take a merge apart again',
    params: byId.extend({ id: mergeId }),
    reply: ok,
  },
} as const satisfies Record<string, RouteSpec>;
