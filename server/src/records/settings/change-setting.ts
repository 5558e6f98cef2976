import { Problem } from '../../platform/http/problem';
import type { Services } from '../../platform/services';
import { noteChange } from '../../platform/change-feed/feed';
import type { SignedIn } from '../users/session';
import type { AllSettings } from './settings';

/** Settings that carry their own version. */
type Versioned = 'mail' | 'closeReasons' | 'leads';

/** Writes one setting over the version it was seen at. @throws Problem `stale` */
export async function changeSetting<Name extends Versioned>(
  { database, settings, feed }: Services,
  who: SignedIn,
  name: Name,
  value: AllSettings[Name],
): Promise<AllSettings[Name]> {
  await database.transaction(async (tx) => {
    await tx.rows('SELECT name FROM setting WHERE name = :name FOR UPDATE', { name });
    const current = (await settings.read(tx))[name];
    if (current.version !== value.version) throw new Problem('stale', {}, { current });
    await tx.change(
      `INSERT INTO setting (name, value) VALUES (:name, :value)
       ON DUPLICATE KEY UPDATE value = :value, version = version + 1`,
      { name, value: JSON.stringify({ ...value, version: value.version + 1 }) },
    );
    await noteChange(tx, 'setting', who.id, who.id);
  });
  feed.poke();
  return (await settings.read(database))[name];
}
