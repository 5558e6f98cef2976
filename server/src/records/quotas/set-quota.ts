import type { SetQuota } from '@kettle/contract';
import { monthsToSet } from '@kettle/core/quotas';
import { sayMoney } from '@kettle/core/money';
import { sayMonth } from '@kettle/core/time';
import type { Row } from '../../platform/database/schema.generated';
import { bytesOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import type { PersonWork } from '../../platform/work/work';
import { notify } from '../notifications/index';
import { maySetQuota, readSetMonths } from './read-quotas';

/**
 * Sets the quota of a person or a team for one month, or from it on. Whom it is for is told.
 * @throws Problem `not-found`, `not-allowed` for somebody whom one does not lead, `invalid-request` for the team of somebody who leads none
 */
export async function setQuota(
  w: PersonWork,
  { userId, isTeam, month, minor, holds }: SetQuota,
): Promise<void> {
  const [person] = await w.rows<Row<'app_user', 'name' | 'role'>>(
    'SELECT name, role FROM app_user WHERE id = :id FOR UPDATE',
    { id: bytesOf(userId) },
  );
  if (person === undefined) throw new Problem('not-found');
  if (!maySetQuota(w.who, userId)) throw new Problem('not-allowed');
  if (isTeam && person.role === 'rep') {
    const fields = [{ path: 'isTeam', message: $localize`${person.name}:name: leads no team` }];
    throw new Problem('invalid-request', {}, { fields });
  }
  const set = (await readSetMonths(w, [userId]))({ userId, isTeam });
  for (const each of monthsToSet(set, { month, minor }, holds))
    await w.change(
      `INSERT INTO quota (user_id, is_team, from_month, amount_minor) VALUES (:user, :isTeam, :month, :minor)
       ON DUPLICATE KEY UPDATE amount_minor = VALUES(amount_minor)`,
      { user: bytesOf(userId), isTeam, month: each.month, minor: each.minor },
    );
  const { organisation } = await w.settings();
  const what = minor === null ? $localize`none` : sayMoney(minor, organisation.currency);
  const when = `${sayMonth(month, 'long')} ${month.slice(0, 4)}`;
  const whose = isTeam ? $localize`the team of ${person.name}:name:` : person.name;
  w.say(
    holds === 'month'
      ? $localize`Quota of ${whose}:whose: in ${when}:when:: ${what}:what:`
      : $localize`Quota of ${whose}:whose: from ${when}:when: on: ${what}:what:`,
  );
  if (userId !== w.who.id)
    await notify(
      w,
      'changed',
      [userId],
      isTeam
        ? $localize`${w.who.name}:name: set your team’s quota for ${when}:when:: ${what}:what:.`
        : $localize`${w.who.name}:name: set your quota for ${when}:when:: ${what}:what:.`,
      '/home',
    );
}
