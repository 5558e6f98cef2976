import type { Handlers } from '../../platform/http/bind-routes';
import type { Services } from '../../platform/services';
import { addComment, addNote, bringEntryBack, changeEntry, readHistory, takeEntryAway } from './edit-entry';
import { readJournal } from './list-journal';

type Names =
  | 'listJournal'
  | 'writeNote'
  | 'editEntry'
  | 'removeEntry'
  | 'restoreEntry'
  | 'entryHistory'
  | 'writeComment';

const ok = { ok: true } as const;

export function journalRoutes(services: Services): Pick<Handlers, Names> {
  return {
    listJournal: ({ query, who }) => readJournal(services.database, query, who.zone),
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
