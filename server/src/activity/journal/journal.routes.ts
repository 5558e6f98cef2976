import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import {
  addComment,
  addNote,
  changeEntry,
  giveThanks,
  readHistory,
  removeEntry,
  restoreEntry,
} from './edit-entry';
import { work } from '../../platform/work/work';
import { readJournal } from './list-journal';

type Names =
  | 'listJournal'
  | 'writeNote'
  | 'editEntry'
  | 'removeEntry'
  | 'restoreEntry'
  | 'entryHistory'
  | 'giveThanks'
  | 'writeComment';

const ok = { ok: true } as const;

export function journalRoutes(services: Services): Pick<Handlers, Names> {
  return {
    listJournal: ({ query, who }) => {
      // What was removed is for whoever answers for others.
      if (query.removed === 'yes' && who.role === 'rep') throw new Problem('not-allowed');
      return services.database.together((db) => readJournal(db, query, who.zone));
    },
    writeNote: async ({ who, body }) => {
      await work(services, who, (w) => addNote(w, body));
      return ok;
    },
    editEntry: async ({ who, params, body }) => {
      await work(services, who, (w) => changeEntry(w, params.id, body));
      return ok;
    },
    removeEntry: async ({ who, params, body }) => {
      await work(services, who, (w) => removeEntry(w, params.id, body));
      return ok;
    },
    restoreEntry: async ({ who, params }) => {
      await work(services, who, (w) => restoreEntry(w, params.id));
      return ok;
    },
    entryHistory: ({ params }) => readHistory(services.database, params.id),
    giveThanks: async ({ who, params, body }) => {
      await work(services, who, (w) => giveThanks(w, params.id, body.isGiven));
      return ok;
    },
    writeComment: async ({ who, params, body }) => {
      await work(services, who, (w) => addComment(w, params.id, body));
      return ok;
    },
  };
}
