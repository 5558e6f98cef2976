import type { QuotaBoard, QuotaPosition, UserId, quotaBoardQuery } from '@kettle/contract';
import { expectedOf } from '@kettle/core/forecast';
import { quotaIn } from '@kettle/core/quotas';
import { addMonths, workingDaysBetween } from '@kettle/core/time';
import type * as z from 'zod';
import type { Services } from '../../platform/services';
import { readSetMonths, sumOf } from '../../records/quotas/index';
import { readTeamOf } from '../../records/rights/index';
import { todayOf, type SignedIn } from '../../records/users/index';
import { readWon } from '../../processes/forecast/index';
import { periodOf, readDue } from './month-deals';

type Query = z.output<typeof quotaBoardQuery>;

/**
 * What was won in a month against its quota. A team's is what was set for it, else what its people's come to; it is the asker's team
 * where they lead one.
 */
export async function readBoard(
  services: Services,
  who: SignedIn,
  { month, whose }: Query,
): Promise<QuotaBoard> {
  const { database: db, calendars, settings } = services;
  const today = todayOf(services, who);
  const { organisation } = await settings.read(db);
  const people = whose === 'mine' ? [{ id: who.id, name: who.name }] : await readTeamOf(db, who);
  const ids = people.map(({ id }) => id);
  const [setFor, won, due] = await Promise.all([
    readSetMonths(db, ids),
    readWon(db, ids, periodOf(month)),
    readDue(db, ids, { month, today }),
  ]);
  const positionOf = ({ id, name }: { readonly id: UserId; readonly name: string }): QuotaPosition => ({
    userId: id,
    name,
    isTeam: false,
    quotaMinor: quotaIn(setFor({ userId: id, isTeam: false }), month),
    won: won.get(id)?.won ?? 0,
    wonMinor: won.get(id)?.minor ?? 0,
    expectedMinor: expectedOf(
      due.flatMap(({ ownerId, minor, chance }) =>
        ownerId === id && minor !== null ? [{ minor, chance }] : [],
      ),
    ),
  });
  const positions = people.map(positionOf);
  const [own] = positions;
  const add = (of: (each: QuotaPosition) => number) => positions.reduce((sum, each) => sum + of(each), 0);
  const total: QuotaPosition =
    whose === 'mine' && own !== undefined
      ? own
      : {
          userId: who.id,
          name: who.name,
          isTeam: true,
          quotaMinor:
            quotaIn(setFor({ userId: who.id, isTeam: true }), month) ??
            sumOf(positions.map(({ quotaMinor }) => quotaMinor)),
          won: add((each) => each.won),
          wonMinor: add((each) => each.wonMinor),
          expectedMinor: add((each) => each.expectedMinor),
        };
  const calendar = calendars.of({ ...who, absences: [] }, organisation);
  const next = addMonths(month, 1);
  const past = today < month ? month : today < next ? today : next;
  return {
    month,
    elapsed:
      workingDaysBetween(month, past, calendar) / Math.max(1, workingDaysBetween(month, next, calendar)),
    total,
    // A manager's own line says nothing where they sell nothing and are to sell nothing.
    people:
      whose === 'mine'
        ? []
        : positions.filter(
            ({ userId, quotaMinor, won: count, expectedMinor }) =>
              userId !== who.id ||
              quotaMinor !== null ||
              count > 0 ||
              expectedMinor > 0 ||
              who.role === 'rep',
          ),
    unconverted:
      [...won.values()].reduce((sum, each) => sum + each.unconverted, 0) +
      due.filter(({ minor }) => minor === null).length,
  };
}
