import type {
  AskForecast,
  Forecast,
  ForecastDeal,
  Outlook,
  PlainDate,
  UserId,
  WhatIf,
} from '@kettle/contract';
import { spreadOf, type Chance } from '@kettle/core/forecast';
import { quotaIn } from '@kettle/core/quotas';
import { addDays, addMonths } from '@kettle/core/time';
import type { Queryable } from '../../platform/database/database';
import type { Services } from '../../platform/services';
import {
  inTimeOf,
  readDealNames,
  readMarks,
  readOpenDeals,
  readOutlook,
  readSlips,
  readWon,
  type AskedSum,
  type OpenDeal,
  type Period,
} from '../../processes/forecast/index';
import { readSetMonths, sumOf } from '../../records/quotas/index';
import { todayOf, type SignedIn } from '../../records/users/index';
import { ownersOf } from './scope';

const mostDeals = 300;
const mostMoves = 12;
const points = 25;
/** A deal with a smaller chance inside the period is not listed. */
const leastChance = 0.005;

/** A deal with its chance inside the period. */
interface Due extends OpenDeal {
  readonly minor: number;
  readonly inTime: number;
}

/**
 * What a period may bring: what was won, and each open deal by its value, its chance and the chance that it closes inside, independent of
 * each other; the same with what is supposed, and as it was foreseen on the Mondays before.
 * @throws Problem `not-allowed` for somebody outside one's team
 */
export async function readForecast(services: Services, who: SignedIn, asked: AskForecast): Promise<Forecast> {
  const { whose, ...rest } = asked;
  const ids = (await ownersOf(services.database, who, whose)) ?? [];
  return readForecastOf(services, who, { ...rest, ids, isTeam: whose === 'team' });
}

interface AskedOf extends Omit<AskForecast, 'whose' | 'months'> {
  readonly months: number;
  /** Whose deals. */
  readonly ids: readonly UserId[];
  /** They are a team, whose quota may be set as a whole. */
  readonly isTeam: boolean;
}

/** The same of the deals of these people; whether they may be asked about is the caller's. */
export async function readForecastOf(services: Services, who: SignedIn, asked: AskedOf): Promise<Forecast> {
  const { database: db } = services;
  const { ids } = asked;
  const today = todayOf(services, who);
  const period: Period = { from: asked.from, until: addDays(addMonths(asked.from, asked.months), -1) };
  const [open, won, slips, marks, quotaMinor] = await Promise.all([
    readOpenDeals(db, ids, asked.pipelineId),
    readWon(db, ids, period, asked.pipelineId),
    readSlips(db, today),
    readMarks(db, ids, { today, pipelineId: asked.pipelineId }),
    // A quota is for all that somebody sells.
    asked.pipelineId === null ? readQuota(db, who, asked) : null,
  ]);
  const wonMinor = sum([...won.values()].map(({ minor }) => minor));
  const likely = open
    .map((deal) => ({ ...deal, inTime: inTimeOf(deal, period, { slips, today }) }))
    .filter(({ winChance, inTime }) => winChance * inTime >= leastChance);
  const due = likely.filter((deal): deal is Due => deal.minor !== null);
  const base: AskedSum = { deals: due.map(chanceOf), wonMinor, quotaMinor };
  const supposed = asked.whatIf.length === 0 ? [] : [suppose(base, due, asked.whatIf)];
  const days = [...marks];
  const past = await Promise.all(
    days.map(async ([on, deals]): Promise<AskedSum> => {
      const then = await readWon(
        db,
        ids,
        { ...period, until: on < period.until ? on : period.until },
        asked.pipelineId,
      );
      return {
        deals: deals.flatMap((deal) =>
          deal.minor === null
            ? []
            : [{ minor: deal.minor, chance: deal.winChance * inTimeOf(deal, period, { slips, today: on }) }],
        ),
        wonMinor: sum([...then.values()].map(({ minor }) => minor)),
        quotaMinor: null,
      };
    }),
  );
  const found = await readOutlook(services, {
    ...{ sums: [base, ...supposed, ...past], moves: mostMoves, points },
  });
  const outlook = (at: number, { wonMinor: won }: AskedSum): Outlook => {
    const { expected, low, middle, high, chance } = found.sums[at]!;
    return {
      ...{ wonMinor: won, expectedMinor: expected, lowMinor: low, middleMinor: middle, highMinor: high },
      quotaChance: chance,
    };
  };
  const moves = new Map(found.moves.map((move) => [move.at, move]));
  const skipped = 1 + supposed.length;
  const now = outlook(0, base);
  const listed = due
    .map((deal, at) => ({ deal, at, spread: spreadOf(chanceOf(deal)) }))
    .sort((one, other) => other.spread - one.spread || one.at - other.at)
    .slice(0, mostDeals);
  const names = await readDealNames(
    db,
    listed.map(({ deal }) => deal.id),
  );
  return {
    ...{ from: period.from, until: period.until, quotaMinor, now },
    supposed: supposed.length === 0 ? null : outlook(1, supposed[0]!),
    chances: [...found.curve],
    deals: listed.flatMap(({ deal, at }): ForecastDeal[] => {
      const { id, expectedCloseOn, minor, winChance, inTime } = deal;
      const named = names.get(id);
      // Deleted meanwhile.
      if (named === undefined) return [];
      const move = quotaMinor === null ? undefined : moves.get(at);
      return [
        {
          ...{ dealId: id, ...named, expectedCloseOn, minor, winChance, inTime },
          ...{ ifWon: move?.ifWon ?? null, ifLost: move?.ifLost ?? null },
        },
      ];
    }),
    count: due.length,
    weeks: [
      ...days.map(([on], at) => {
        const { expected, low, high } = found.sums[skipped + at]!;
        return { on, wonMinor: past[at]!.wonMinor, expectedMinor: expected, lowMinor: low, highMinor: high };
      }),
      {
        ...{ on: today, wonMinor, expectedMinor: now.expectedMinor },
        ...{ lowMinor: now.lowMinor, highMinor: now.highMinor },
      },
    ],
    learnedFrom: slips.length,
    unconverted: sum([...won.values()].map(({ unconverted }) => unconverted)) + (likely.length - due.length),
  };
}

const sum = (all: readonly number[]) => all.reduce((total, each) => total + each, 0);

const chanceOf = ({ minor, winChance, inTime }: Due): Chance => ({ minor, chance: winChance * inTime });

/** The same with deals that came out otherwise; each counts as the last that was said of it. */
function suppose(base: AskedSum, due: readonly Due[], whatIfs: readonly WhatIf[]): AskedSum {
  const said = new Map(whatIfs.map((each) => [each.dealId as string, each]));
  return {
    ...base,
    deals: due.map((deal) => {
      const supposed = said.get(deal.id);
      const chance = chanceOf(deal);
      if (supposed === undefined) return chance;
      if (supposed.as === 'value') return { ...chance, minor: supposed.minor };
      return { ...chance, chance: supposed.as === 'won' ? 1 : 0 };
    }),
  };
}

/** What is to be won in the months of a period: what was set for the person, or for the team, else what its people's come to. */
async function readQuota(
  db: Queryable,
  who: SignedIn,
  { isTeam, from, months, ids }: AskedOf,
): Promise<number | null> {
  const setFor = await readSetMonths(db, [...new Set([...ids, who.id])]);
  const inMonth = (month: PlainDate) => {
    const ofPeople = sumOf(ids.map((userId) => quotaIn(setFor({ userId, isTeam: false }), month)));
    return isTeam ? (quotaIn(setFor({ userId: who.id, isTeam: true }), month) ?? ofPeople) : ofPeople;
  };
  return sumOf(Array.from({ length: months }, (_, at) => inMonth(addMonths(from, at))));
}
