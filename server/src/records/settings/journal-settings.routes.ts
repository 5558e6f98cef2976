import type { JournalSettings, changeJournalSettings } from '@kettle/contract';
import { channelNames } from '@kettle/contract/base/channels';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { wholeNumber } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import type { Settings } from './settings';
import { work } from '../../platform/work/work';

const names = ['outcomes', 'touchPolicy', 'checklists', 'standingBySource'] as const;

export function journalSettingsRoutes(
  services: Services,
): Pick<Handlers, 'journalSettings' | 'changeJournalSettings'> {
  const { database, settings } = services;
  return {
    journalSettings: () => readJournalSettings(database, settings),
    changeJournalSettings: async ({ body, who }) => {
      assertOutcomes(body.outcomes);
      await work(services, who, async (w) => {
        await w.rows('SELECT name FROM setting WHERE name IN (:names) ORDER BY name FOR UPDATE', {
          names: [...names],
        });
        const before = await readJournalSettings(w, settings);
        if (before.version !== body.version) throw new Problem('stale', {}, { current: before });
        await write(w, 'outcomes', { list: body.outcomes });
        await write(w, 'touchPolicy', body.touchPolicy);
        await write(w, 'checklists', body.checklists);
        await write(w, 'standingBySource', { list: body.standingBySource });
      });
      return readJournalSettings(database, settings);
    },
  };
}

async function readJournalSettings(db: Queryable, settings: Settings): Promise<JournalSettings> {
  const read = await settings.read(db);
  const [sum] = await db.rows<{ version: string }>(
    'SELECT COALESCE(SUM(version), 0) AS version FROM setting WHERE name IN (:names)',
    { names: [...names] },
  );
  return {
    version: wholeNumber(sum?.version ?? 0),
    outcomes: [...read.outcomes.list],
    touchPolicy: read.touchPolicy,
    checklists: read.checklists,
    standingBySource: read.standingBySource.list,
  };
}

async function write(tx: Queryable, name: (typeof names)[number], value: unknown): Promise<void> {
  await tx.change(
    `INSERT INTO setting (name, value) VALUES (:name, :value)
     ON DUPLICATE KEY UPDATE value = :value, version = version + 1`,
    { name, value: JSON.stringify(value) },
  );
}

/** Every kind keeps at least one outcome, and no two share a name. */
function assertOutcomes(outcomes: z.output<typeof changeJournalSettings>['outcomes']): void {
  const refuse = (message: string) =>
    new Problem('invalid-request', {}, { fields: [{ path: 'outcomes', message }] });
  if (new Set(outcomes.map((outcome) => outcome.id)).size !== outcomes.length)
    throw refuse('two have the same id');
  for (const kind of channelNames)
    if (!outcomes.some((outcome) => outcome.kind === kind))
      throw refuse(`a ${kind} needs at least one outcome`);
}
