import type { PlainDate } from '@kettle/contract';

/** What a lane must know of a deal; money in minor units. */
export interface LaneDeal {
  readonly id: string;
  readonly stageId: string;
  /** In the organisation's currency, as the weighted amount is; null while there is no rate for its own. */
  readonly homeMinor: number | null;
  readonly weightedMinor: number;
  readonly expectedCloseOn: PlainDate | null;
  /** The next step's day; null is loose. */
  readonly nextStepOn: PlainDate | null;
}

/** A stretch of the time axis: what should have closed already, one month each, and what is later or has no date. */
export type LaneColumn =
  | { readonly kind: 'overdue' }
  | { readonly kind: 'month'; readonly month: string }
  | { readonly kind: 'later' };

export interface Totals {
  readonly count: number;
  readonly totalMinor: number;
  readonly weightedMinor: number;
  /** How many are in no sum, for want of a rate. */
  readonly unvalued: number;
}

export interface Lane<Deal extends LaneDeal> {
  readonly stageId: string;
  /** The deals of each column, in the columns' order. */
  readonly cells: readonly (readonly Deal[])[];
  readonly totals: Totals;
}

/** The axis: overdue, so many months from this one on (`YYYY-MM`), later. */
export function laneColumns(today: PlainDate, months: number): LaneColumn[] {
  const [year, month] = [Number(today.slice(0, 4)), Number(today.slice(5, 7)) - 1];
  return [
    { kind: 'overdue' },
    ...Array.from({ length: months }, (_, ahead) => ({
      kind: 'month' as const,
      month: monthOf(year, month + ahead),
    })),
    { kind: 'later' },
  ];
}

const monthOf = (year: number, month: number) =>
  `${year + Math.floor(month / 12)}-${String((((month % 12) + 12) % 12) + 1).padStart(2, '0')}`;

/** The place of an expected close among the columns. */
export function columnOf(
  closeOn: PlainDate | null,
  columns: readonly LaneColumn[],
  today: PlainDate,
): number {
  const last = columns.length - 1;
  if (closeOn === null) return last;
  if (closeOn < today) return 0;
  const month = closeOn.slice(0, 7);
  const found = columns.findIndex((column) => column.kind === 'month' && column.month === month);
  return found < 0 ? last : found;
}

/** Every deal in the cell of its stage and month; inside a cell by next step, loose ones last, then by value. */
export function layLanes<Deal extends LaneDeal>(
  deals: readonly Deal[],
  stageIds: readonly string[],
  columns: readonly LaneColumn[],
  today: PlainDate,
): Lane<Deal>[] {
  return stageIds.map((stageId) => {
    const inStage = deals.filter((deal) => deal.stageId === stageId).sort(byNextStep);
    const cells: Deal[][] = columns.map(() => []);
    for (const deal of inStage) cells[columnOf(deal.expectedCloseOn, columns, today)]!.push(deal);
    return { stageId, cells, totals: totalsOf(inStage) };
  });
}

function byNextStep(a: LaneDeal, b: LaneDeal): number {
  if (a.nextStepOn !== b.nextStepOn) {
    if (a.nextStepOn === null) return 1;
    if (b.nextStepOn === null) return -1;
    return a.nextStepOn < b.nextStepOn ? -1 : 1;
  }
  return (b.homeMinor ?? 0) - (a.homeMinor ?? 0) || (a.id < b.id ? -1 : a.id > b.id ? 1 : 0);
}

/** What of a cell is drawn, and what stands behind a count. */
export interface FoldedCell<Deal> {
  readonly shown: readonly Deal[];
  readonly folded: readonly Deal[];
}

/**
 * Folds a cell with many deals: the first `most` are shown in their order, with those that must not go from sight; a single
 * one is never folded, as its count would take the same place.
 * @example foldCell([1, 2, 3, 4], 2, (n) => n === 4) is { shown: [1, 2, 3, 4], folded: [] }: behind the count would be 3 alone
 */
export function foldCell<Deal>(
  deals: readonly Deal[],
  most: number,
  mustShow: (deal: Deal) => boolean,
): FoldedCell<Deal> {
  const isShown = (deal: Deal, at: number) => at < most || mustShow(deal);
  const folded = deals.filter((deal, at) => !isShown(deal, at));
  if (folded.length <= 1) return { shown: deals, folded: [] };
  return { shown: deals.filter(isShown), folded };
}

export function totalsOf(deals: readonly Pick<LaneDeal, 'homeMinor' | 'weightedMinor'>[]): Totals {
  return {
    count: deals.length,
    totalMinor: deals.reduce((sum, deal) => sum + (deal.homeMinor ?? 0), 0),
    weightedMinor: deals.reduce((sum, deal) => sum + deal.weightedMinor, 0),
    unvalued: deals.filter(({ homeMinor }) => homeMinor === null).length,
  };
}

/**
 * The expected close of a deal moved to a column: the same day of that month as before, as far as the month has it, never a
 * day that is over; later than the axis means no date. Null for the past, where nothing can be moved to.
 */
export function closeInColumn(
  column: LaneColumn,
  closeOn: PlainDate | null,
  today: PlainDate,
): { readonly on: PlainDate | null } | null {
  if (column.kind === 'overdue') return null;
  if (column.kind === 'later') return { on: null };
  const lastDay = lastDayOf(column.month);
  const day = closeOn === null ? lastDay : Math.min(Number(closeOn.slice(8, 10)), lastDay);
  const on = `${column.month}-${String(day).padStart(2, '0')}`;
  return { on: on < today ? today : on };
}

function lastDayOf(month: string): number {
  const [year, number] = month.split('-').map(Number);
  return new Date(Date.UTC(year!, number, 0)).getUTCDate();
}
