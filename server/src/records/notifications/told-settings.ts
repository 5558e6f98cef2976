import { noticeKinds, type ToldSettings } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf } from '../../platform/ids';
import type { PersonWork } from '../../platform/work/work';

const usual = { level: 'all', byBrowser: true, byMail: false } as const;

/** How somebody is told of each kind of thing; of what they have not said, everything by the bell and the browser. */
export async function readToldSettings(db: Queryable, userId: string): Promise<ToldSettings> {
  const me = { user: bytesOf(userId) };
  const rows = await db.rows<Row<'told_choice', 'kind' | 'level' | 'by_browser' | 'by_mail'>>(
    'SELECT kind, level, by_browser, by_mail FROM told_choice WHERE user_id = :user ORDER BY kind',
    me,
  );
  const [person] = await db.rows<Row<'app_user', 'digest_minute' | 'quiet_from_minute' | 'quiet_to_minute'>>(
    'SELECT digest_minute, quiet_from_minute, quiet_to_minute FROM app_user WHERE id = :user',
    me,
  );
  const { quiet_from_minute: from = null, quiet_to_minute: to = null } = person ?? {};
  const said = new Map(
    rows.map(({ kind, level, by_browser: browser, by_mail: mail }) => [
      kind,
      { level, byBrowser: browser === 1, byMail: mail === 1 },
    ]),
  );
  return {
    choices: noticeKinds.map((kind) => ({ kind, ...(said.get(kind) ?? usual) })),
    digestMinute: person?.digest_minute ?? null,
    quietHours: from === null || to === null ? null : { from, to },
  };
}

export async function writeToldSettings(
  w: PersonWork,
  { choices, digestMinute, quietHours }: ToldSettings,
): Promise<void> {
  w.say($localize`How I am told of what changed`);
  const user = bytesOf(w.who.id);
  for (const { kind, level, byBrowser, byMail } of choices)
    await w.change(
      `INSERT INTO told_choice (user_id, kind, level, by_browser, by_mail) VALUES (:user, :kind, :level, :browser, :mail)
       ON DUPLICATE KEY UPDATE level = :level, by_browser = :browser, by_mail = :mail`,
      { user, kind, level, browser: byBrowser ? 1 : 0, mail: byMail ? 1 : 0 },
    );
  await w.change(
    `UPDATE app_user SET digest_minute = :minute, quiet_from_minute = :from, quiet_to_minute = :to, version = version + 1
      WHERE id = :user`,
    { user, minute: digestMinute, from: quietHours?.from ?? null, to: quietHours?.to ?? null },
  );
}
