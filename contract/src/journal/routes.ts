import { entryId } from '../base/ids';
import { byId, ok, type RouteSpec } from '../base/route';
import {
  editEntry,
  entryHistory,
  giveThanks,
  journalPage,
  listJournal,
  logEntry,
  logged,
  removeEntry,
  writeComment,
  writeNote,
} from './schemas';

export const journalRoutes = {
  listJournal: {
    access: 'rep',
    summary: 'Journal of a contact, company or deal',
    query: listJournal,
    reply: journalPage,
  },
  log: {
    access: 'rep',
    summary: 'Log an act with outcome and next step',
    body: logEntry,
    refersTo: ['body.alsoContactIds'],
    reply: logged,
  },
  writeNote: {
    access: 'rep',
    summary: 'Write a note',
    body: writeNote,
    refersTo: ['body.alsoContactIds'],
    reply: ok,
  },
  undoLog: {
    access: 'rep',
    summary: 'Undo a log made a moment ago',
    params: byId.extend({ id: entryId }),
    reply: ok,
  },
  editEntry: {
    access: 'rep',
    summary: 'Change what an entry says; what it said before is kept',
    params: byId.extend({ id: entryId }),
    body: editEntry,
    reply: ok,
  },
  removeEntry: {
    access: 'rep',
    summary: 'Mark an entry as removed',
    params: byId.extend({ id: entryId }),
    body: removeEntry,
    reply: ok,
  },
  restoreEntry: {
    access: 'rep',
    summary: 'Bring a removed entry back',
    params: byId.extend({ id: entryId }),
    reply: ok,
  },
  entryHistory: {
    access: 'manager',
    summary: 'What an entry said before',
    params: byId.extend({ id: entryId }),
    reply: entryHistory,
  },
  giveThanks: {
    access: 'rep',
    perHour: 240,
    summary: 'Thank whoever logged an entry, or remove the thanks',
    params: byId.extend({ id: entryId }),
    body: giveThanks,
    refersTo: ['params.id'],
    reply: ok,
  },
  writeComment: {
    access: 'rep',
    perHour: 240,
    summary: 'Comment on an entry; @name tells a colleague',
    params: byId.extend({ id: entryId }),
    body: writeComment,
    refersTo: ['params.id'],
    reply: ok,
  },
} as const satisfies Record<string, RouteSpec>;
