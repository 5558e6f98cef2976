import { Problem } from '../../platform/problem';
import type { Services } from '../../platform/services';
import type { SignedIn } from '../users/index';
import type { AllSettings } from './settings';
import { work, type PersonWork } from '../../platform/work/work';

/** Settings that carry their own version. */
type Versioned = 'mail' | 'closeReasons' | 'leads' | 'round';

/** Writes one setting with the version after the one that was seen. */
export async function writeSetting(
  w: PersonWork,
  name: string,
  value: { readonly version: number },
): Promise<void> {
  await w.change(
    `INSERT INTO setting (name, value) VALUES (:name, :value)
     ON DUPLICATE KEY UPDATE value = :value, version = version + 1`,
    { name, value: JSON.stringify({ ...value, version: value.version + 1 }) },
  );
}

/** Writes one setting over the version it was seen at. @throws Problem `stale` */
export async function changeSetting<Name extends Versioned>(
  services: Services,
  who: SignedIn,
  name: Name,
  value: AllSettings[Name],
): Promise<AllSettings[Name]> {
  await work(services, who, async (w) => {
    await w.rows('SELECT name FROM setting WHERE name = :name FOR UPDATE', { name });
    const current = (await w.settings())[name];
    if (current.version !== value.version) throw new Problem('stale', {}, { current });
    await writeSetting(w, name, value);
  });
  return (await services.settings.read(services.database))[name];
}
