import type { UserId } from '@kettle/contract';
import type { Row } from '../../platform/database/schema.generated';
import { idOf } from '../../platform/ids';
import type { PersonWork } from '../../platform/work/work';
import { notify } from '../../records/notifications/index';
import { readReach } from '../../records/rights/index';
import type { SignedIn } from '../../records/users/index';

interface Said {
  readonly text: string;
  /** People who hear of it though they are not named. */
  readonly also: readonly string[];
  readonly mayRead: (reader: SignedIn) => Promise<boolean>;
  /** What it is about, and where it stands. */
  readonly place: () => Promise<{ readonly about: string; readonly path: string }>;
}

/** Tells colleagues who are named with an @ in what somebody said; who said it is not told. */
export async function tellNamed(w: PersonWork, { text, also, mayRead, place }: Said): Promise<void> {
  const people = await w.rows<Row<'app_user', 'id' | 'name' | 'role'>>(
    'SELECT id, name, role FROM app_user ORDER BY id',
  );
  const named = mentioned(
    text,
    people.map((each) => ({ id: idOf<string>(each.id), name: each.name })),
  );
  const told = [...named, ...also].filter((id) => id !== w.who.id);
  if (told.length === 0) return;
  const { about, path } = await place();
  const [stored] = await w.rows<Row<'setting', 'value'>>("SELECT value FROM setting WHERE name = 'rights'");
  const rights = stored?.value ?? null;
  for (const { id: key, name, role } of people) {
    const id = idOf<UserId>(key);
    if (!told.includes(id)) continue;
    const reader: SignedIn = {
      ...w.who,
      id,
      name,
      role,
      reach: await readReach(w, { id, role, rights, standsInFor: [] }),
    };
    // A mention arrives whatever the reading policy; whom and what it is about does not.
    if (await mayRead(reader))
      await notify(
        w,
        'mention',
        [id],
        $localize`${w.who.name}:name: on ${about}:about:: ${text}:text:`,
        path,
      );
    else
      await notify(
        w,
        'mention',
        [id],
        $localize`${w.who.name}:name: named you where you may not read. Ask them.`,
        '/round',
      );
  }
}

/** Colleagues named with an @, by their whole name or a given name that only one of them has. */
export function mentioned(text: string, people: readonly { id: string; name: string }[]): string[] {
  const lower = text.toLowerCase();
  const givenNames = people.map((each) => each.name.split(' ')[0]!.toLowerCase());
  return people
    .filter((each, index) => {
      if (lower.includes(`@${each.name.toLowerCase()}`)) return true;
      const given = givenNames[index]!;
      const isOnly = givenNames.filter((name) => name === given).length === 1;
      return (
        isOnly && new RegExp(`@${given.replace(/[^\p{L}\p{N}]/gu, '.')}(?![\\p{L}\\p{N}])`, 'u').test(lower)
      );
    })
    .map((each) => each.id);
}
