import type { Wording } from '@kettle/contract';
import type { Call } from '../../platform/http/bind-routes';
import { isAtLeast } from '@kettle/core/rights';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { tryOut, work, type PersonWork } from '../../platform/work/work';
import { notify } from '../../records/notifications/index';
import type { SignedIn } from '../../records/users/index';
import { carryOut } from './carry-out';
import { readWording } from './wording-rows';

/**
 * Keeps a change of a text or cadence until somebody releases it. It is tried out first, so that what cannot be read, a name in use or a
 * change by others meanwhile is told to its author.
 * @throws Problem of the act
 */
export async function draftWording(
  services: Services,
  who: SignedIn,
  { id, asked }: Call<'draftWording'>['body'],
): Promise<Wording> {
  const { database } = services;
  // As somebody who may.
  await tryOut(services, { ...who, role: 'admin' }, (w) => carryOut(w, asked));
  await work(services, who, async (w) => {
    const added = await w.change(
      `INSERT IGNORE INTO wording (id, act, template_id, snippet_id, cadence_id, name, asked, author_id, at, state)
       VALUES (:id, :act, :template, :snippet, :cadence, :name, :asked, :who, :now, 'waiting')`,
      {
        id: bytesOf(id),
        act: asked.act,
        template: bytesOf(asked.act === 'changeTemplate' ? asked.templateId : null),
        snippet: bytesOf(asked.act === 'changeSnippet' ? asked.snippetId : null),
        cadence: bytesOf(asked.act === 'saveCadence' ? asked.cadenceId : null),
        name: asked.body.name,
        asked: JSON.stringify(asked.body),
        who: bytesOf(who.id),
        now: sqlInstant(w.now),
      },
    );
    if (added === 0) return;
    w.say($localize`Change of “${asked.body.name}:name:” waits for release`);
    await notify(
      w,
      'release',
      await releasersOf(w),
      $localize`${who.name}:name: asks you to release a change of “${asked.body.name}:name2:”`,
      placeOf(asked.act),
    );
  });
  return readWording(database, id);
}

/** Where what waits for release is shown. */
export const placeOf = (act: Wording['act']) =>
  act === 'createCadence' || act === 'saveCadence' ? '/cadences' : '/cadences/templates';

/** Who is asked to release what somebody wrote: their manager where that one may, else everybody who may. */
async function releasersOf(w: PersonWork): Promise<string[]> {
  const { releases } = (await w.settings()).rights;
  const people = await readReleasers(w);
  const may = people.filter(({ id, role }) => isAtLeast(role, releases) && idOf<string>(id) !== w.who.id);
  const [me] = await w.rows<Row<'app_user', 'manager_id'>>('SELECT manager_id FROM app_user WHERE id = :id', {
    id: bytesOf(w.who.id),
  });
  const manager = may.filter(({ id }) => me?.manager_id?.equals(id));
  return (manager.length > 0 ? manager : may).map(({ id }) => idOf<string>(id));
}

const readReleasers = (db: Queryable) =>
  db.rows<Row<'app_user', 'id' | 'role'>>(
    "SELECT id, role FROM app_user WHERE role <> 'rep' AND deactivated_at IS NULL ORDER BY name, id LIMIT 50",
  );
