import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { addComment, addNote, bringEntryBack, changeEntry, readHistory, takeEntryAway } from './edit-entry';
import { readJournal } from './list-journal';
import { logAct } from './log-act';
import { undoLog } from './undo-log';

type Names =
  | 'listJournal'
  | 'log'
  | 'writeNote'
  | 'undoLog'
  | 'editEntry'
  | 'removeEntry'
  | 'restoreEntry'
  | 'entryHistory'
  | 'writeComment';

const ok = { ok: true } as const;

export function journalRoutes(services: Services): Pick<Handlers, Names> {
  return {
    listJournal: ({ query, who }) => readJournal(services.database, query, who.zone),
    log: ({ who, body }) => logAct(services, who, body),
    undoLog: async ({ who, params }) => {
      await undoLog(services, who, params.id);
      return ok;
    },
    writeNote: async ({ who, body }) => {
      await addNote(services, who, body);
      return ok;
    },
    editEntry: async ({ who, params, body }) => {
      await changeEntry(services, who, params.id, body);
      return ok;
    },
    removeEntry: async ({ who, params, body }) => {
      await takeEntryAway(services, who, params.id, body);
      return ok;
    },
    restoreEntry: async ({ who, params }) => {
      await bringEntryBack(services, who, params.id);
      return ok;
    },
    entryHistory: ({ params }) => readHistory(services.database, params.id),
    writeComment: async ({ who, params, body }) => {
      await addComment(services, who, params.id, body);
      return ok;
    },
  };
}
