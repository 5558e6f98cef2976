import type { RenewalsAhead, RenewalWindow, UserId } from '@kettle/contract';
import { addMonths } from '@kettle/core/time';
import type { SqlParameters } from '../../platform/database/database';
import { wholeNumber } from '../../platform/database/values';
import { bytesOf, idOf, type IdBytes } from '../../platform/ids';
import type { Services } from '../../platform/services';
import { reachParameters, withinReach } from '../../records/rights/index';
import { todayOf, type SignedIn } from '../../records/users/index';
import { readRisksOf, windowSql } from '../agreements/index';

const windows: readonly RenewalWindow[] = ['lead', 'notice', 'over', 'renewed', 'lost'];
const monthsShown = 12;

/** What is at stake: by window, by the month in which notice closes, and by owner. Money a year, in the organisation's currency. */
export async function readRenewalsAhead(
  services: Services,
  who: SignedIn,
  { owner }: { readonly owner: 'mine' | 'all' },
): Promise<RenewalsAhead> {
  const { database: db } = services;
  const today = todayOf(services, who);
  const first = `${today.slice(0, 7)}-01`;
  const mine = owner === 'mine' ? 'a.owner_id = :me AND ' : '';
  const known = `${mine}a.archived_at IS NULL AND ${withinReach(who, 'agreement', 'a')}`;
  const parameters: SqlParameters = { ...reachParameters(who), me: bytesOf(who.id), today };
  const counted = windows.map(
    (window) =>
      `SUM(${windowSql[window]}) AS ${window}_count, SUM(IF(${windowSql[window]}, COALESCE(a.yearly_home_minor, 0), 0)) AS ${window}_minor`,
  );
  const ahead = `a.state IN ('running', 'over') AND a.notice_deadline_on >= :first AND a.notice_deadline_on < :last`;
  const span = { ...parameters, first, last: addMonths(first, monthsShown) };
  const [[sums], terms, owners] = await Promise.all([
    db.rows<Record<string, string | null>>(
      `SELECT ${counted.join(', ')}, SUM(a.yearly_home_minor IS NULL) AS unvalued FROM agreement a WHERE ${known}`,
      parameters,
    ),
    db.rows<{ id: IdBytes; month: string; decision: 'open' | 'renewed' | 'leaving'; yearly: string | null }>(
      `SELECT a.id, DATE_FORMAT(a.notice_deadline_on, '%Y-%m-01') AS month, a.decision, a.yearly_home_minor AS yearly
         FROM agreement a WHERE ${known} AND ${ahead} ORDER BY a.id`,
      span,
    ),
    db.rows<{ owner_id: IdBytes<UserId>; name: string; count: string; yearly: string }>(
      `SELECT a.owner_id, u.name, COUNT(*) AS count, COALESCE(SUM(a.yearly_home_minor), 0) AS yearly
         FROM agreement a JOIN app_user u ON u.id = a.owner_id
        WHERE ${known} AND a.decision = 'open' AND ${ahead} GROUP BY a.owner_id, u.name ORDER BY yearly DESC, u.name, a.owner_id`,
      span,
    ),
  ]);
  const risks = await readRisksOf(db, `${known} AND a.decision = 'open' AND ${ahead}`, span, today);
  const months = new Map<
    string,
    { open: number; renewed: number; leaving: number; atRisk: number; count: number }
  >();
  for (const { id, month, decision, yearly } of terms) {
    const sums = months.get(month) ?? { open: 0, renewed: 0, leaving: 0, atRisk: 0, count: 0 };
    months.set(month, sums);
    sums.count += 1;
    sums[decision] += wholeNumber(yearly);
    if (decision === 'open') sums.atRisk += wholeNumber(yearly) * (risks.get(idOf<string>(id))?.chance ?? 0);
  }
  return {
    windows: windows.map((window) => ({
      window,
      count: wholeNumber(sums?.[`${window}_count`] ?? 0),
      yearlyHomeMinor: wholeNumber(sums?.[`${window}_minor`] ?? 0),
    })),
    months: Array.from({ length: monthsShown }, (_, at) => {
      const month = addMonths(first, at);
      const sums = months.get(month);
      return {
        ...{ month, count: sums?.count ?? 0, openMinor: sums?.open ?? 0, renewedMinor: sums?.renewed ?? 0 },
        ...{ leavingMinor: sums?.leaving ?? 0, atRiskMinor: Math.round(sums?.atRisk ?? 0) },
      };
    }),
    owners: owners.map((row) => ({
      userId: idOf(row.owner_id),
      name: row.name,
      count: wholeNumber(row.count),
      yearlyHomeMinor: wholeNumber(row.yearly),
    })),
    unvalued: wholeNumber(sums?.unvalued ?? 0),
  };
}
