import type { JournalSettings, changeJournalSettings } from '@kettle/contract';
import { channelNames } from '@kettle/contract/base/channels';
import type * as z from 'zod';
import type { Queryable } from '../../platform/database/database';
import { wholeNumber } from '../../platform/database/values';
import type { Handlers } from '../../platform/http/bind-routes';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { mergeSetting } from './merge-setting';
import { settingOf, type AllSettings, type Settings } from './settings';
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
        const merged = await mergeSetting<typeof body>(w, {
          names,
          asked: body,
          record: before,
          read: (texts, changesAgo) => ({
            ...bodyOf((name) => settingOf(name, texts.get(name))),
            // Each of them that is written adds one.
            version: before.version - changesAgo,
          }),
          inParts: ['touchPolicy', 'checklists'],
        });
        assertOutcomes(merged.outcomes);
        await write(w, 'outcomes', { list: merged.outcomes });
        await write(w, 'touchPolicy', merged.touchPolicy);
        await write(w, 'checklists', merged.checklists);
        await write(w, 'standingBySource', { list: merged.standingBySource });
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
    ...bodyOf((name) => read[name]),
  };
}

/** The settings as a change has them. */
const bodyOf = (read: <Name extends (typeof names)[number]>(name: Name) => AllSettings[Name]) => ({
  outcomes: [...read('outcomes').list],
  touchPolicy: read('touchPolicy'),
  checklists: read('checklists'),
  standingBySource: read('standingBySource').list,
});

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
    throw refuse($localize`two have the same id`);
  for (const kind of channelNames)
    if (!outcomes.some((outcome) => outcome.kind === kind))
      throw refuse($localize`a ${kind}:kind: needs at least one outcome`);
}
