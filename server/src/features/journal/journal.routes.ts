import type { Handlers } from '../../http/bind-routes';
import { bytesOf, idOrNull, type IdBytes } from '../../ids';
import { Problem } from '../../http/problem';
import type { Services } from '../../services';
import { noteChange } from '../changes/feed';
import { assertMayChange } from '../session/rights';
import { readJournal } from './list-journal';
import { logAct } from './log-act';
import { undoLog } from './undo';
import { insertEntries } from './write-entry';

export function journalRoutes(
  services: Services,
): Pick<Handlers, 'listJournal' | 'log' | 'writeNote' | 'undoLog'> {
  const { database, clock, feed } = services;
  return {
    listJournal: ({ query }) => readJournal(database, query),
    log: ({ who, body }) => logAct(services, who, body),
    undoLog: async ({ who, params }) => {
      await undoLog(services, who, params.id);
      return { ok: true };
    },
    writeNote: async ({ who, body }) => {
      await database.transaction(async (tx) => {
        const now = clock.now();
        const [about] = await tx.rows<{ owner_id: IdBytes | null; company_id: IdBytes | null }>(
          body.dealId === null
            ? 'SELECT owner_id, company_id FROM contact WHERE id = :id'
            : 'SELECT owner_id, company_id FROM deal WHERE id = :id',
          { id: bytesOf(body.dealId ?? body.contactId) },
        );
        if (!about) throw new Problem('not-found');
        await assertMayChange(tx, who, idOrNull(about.owner_id));
        const isKnown = await tx.rows('SELECT 1 FROM journal_entry WHERE id = :id', { id: bytesOf(body.id) });
        if (isKnown.length > 0) return;
        const nothing = {
          direction: null,
          outcomeId: null,
          outcomeLabel: null,
          minutes: null,
          taskId: null,
          runId: null,
        };
        const entry = { ...nothing, ...body, at: now, kind: 'note', counts: 'none', userId: who.id } as const;
        await insertEntries(tx, [{ ...entry, companyId: idOrNull(about.company_id) }], now);
        await noteChange(tx, 'journal', body.id, who.id);
      });
      feed.poke();
      return { ok: true };
    },
  };
}
