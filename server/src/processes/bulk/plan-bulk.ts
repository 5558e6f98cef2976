import type { BulkPlan, Selection, startBulk } from '@kettle/contract';
import type * as z from 'zod';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import { readContactIds, readContactRows } from '../../records/contacts/index';
import { filterSetting } from '../../records/grid/index';
import { type SignedIn, todayOf } from '../../records/users/index';
import { mayChange } from '../../records/rights/index';
import { speechOf, stepFor } from './bulk-act';

const mostContacts = 50_000;
const rowsAtOnce = 1000;
const samplesShown = 5;

/** Contacts that were picked, or that a view finds. @throws Problem `nobody-to-reach` */
export async function selectedIds(
  services: Services,
  who: SignedIn,
  selection: Selection,
): Promise<Buffer[]> {
  if ('ids' in selection) return selection.ids.map((id) => bytesOf(id));
  const setting = await filterSetting(services, selection.query, {
    who,
    today: todayOf(services, who),
    subject: 'contact',
  });
  const ids = await readContactIds(services.database, selection.query, setting, { limit: mostContacts });
  if (ids.length === 0) throw new Problem('nobody-to-reach');
  return ids;
}

/** What a bulk change would do, without doing it. */
export async function planBulk(
  services: Services,
  who: SignedIn,
  body: z.output<typeof startBulk>,
): Promise<BulkPlan> {
  const { database } = services;
  const ids = await selectedIds(services, who, body.selection);
  const speech = await speechOf(database);
  const refused = new Map<string, number>();
  let same = 0;
  const samples: BulkPlan['samples'] = [];
  for (let from = 0; from < ids.length; from += rowsAtOnce)
    for (const row of await readContactRows(database, ids.slice(from, from + rowsAtOnce))) {
      if (!mayChange(who, row.ownerId)) {
        const reason = $localize`belongs to ${row.ownerName ?? $localize`a colleague`}:ownerName:`;
        refused.set(reason, (refused.get(reason) ?? 0) + 1);
        continue;
      }
      const step = stepFor(row, body.act);
      if (step.isSame) same += 1;
      else if (samples.length < samplesShown)
        samples.push({
          contactId: row.id,
          name: row.name,
          before: step.field === null ? '' : speech.say(step.before),
          after: speech.say(step.after),
        });
    }
  const refusedCount = [...refused.values()].reduce((sum, count) => sum + count, 0);
  return {
    words: speech.words(body.act, ids.length),
    changes: ids.length - same - refusedCount,
    same,
    refused: [...refused].map(([reason, count]) => ({ reason, count })),
    samples,
  };
}
