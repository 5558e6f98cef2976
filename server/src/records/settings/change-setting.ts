import type { Resolved } from '@kettle/contract';
import type { Services } from '../../platform/services';
import { work, type PersonWork } from '../../platform/work/work';
import type { SignedIn } from '../users/index';
import { mergeSetting } from './merge-setting';
import { settingOf, type AllSettings } from './settings';

/** Settings that carry their own version. */
type Versioned =
  | 'accounts'
  | 'mail'
  | 'closeReasons'
  | 'leads'
  | 'retention'
  | 'rights'
  | 'roads'
  | 'round'
  | 'selling'
  | 'setup';

/** Writes one setting with the version after the one that is stored. */
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

interface Asked<Name extends Versioned> {
  readonly name: Name;
  readonly body: AllSettings[Name] & { readonly resolved?: Resolved };
  /** Fields whose parts are fields of their own. */
  readonly inParts?: readonly (keyof AllSettings[Name] & string)[];
}

/** Changes one setting, field by field, over the version it was seen at. @throws Problem `stale` */
export async function changeSetting<Name extends Versioned>(
  services: Services,
  who: SignedIn,
  { name, body, inParts = [] }: Asked<Name>,
): Promise<AllSettings[Name]> {
  await work(services, who, async (w) => {
    await w.rows('SELECT name FROM setting WHERE name = :name FOR UPDATE', { name });
    const record = (await w.settings())[name];
    const { resolved: _, ...value } = await mergeSetting<Asked<Name>['body']>(w, {
      names: [name],
      asked: body,
      record,
      read: (texts) => settingOf(name, texts.get(name)) as Asked<Name>['body'],
      inParts,
    });
    await writeSetting(w, name, value as AllSettings[Name]);
  });
  return (await services.settings.read(services.database))[name];
}
