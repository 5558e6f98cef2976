import { talkId } from '../base/ids';
import { byId, ok, type RouteSpec } from '../base/route';
import { listTalk, talk, writeTalk } from './schemas';

export const talkRoutes = {
  listTalk: { access: 'rep', summary: 'What colleagues say about a record', query: listTalk, reply: talk },
  writeTalk: {
    access: 'rep',
    perHour: 240,
    summary: 'Say something to colleagues about a record; @name tells one of them',
    body: writeTalk,
    refersTo: ['body'],
    reply: ok,
  },
  removeTalk: {
    access: 'rep',
    summary: 'Remove what one said oneself',
    params: byId.extend({ id: talkId }),
    reply: ok,
  },
} as const satisfies Record<string, RouteSpec>;
