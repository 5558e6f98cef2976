/** What a deal sells: whole or part units at a price, less a discount, once or for every year. */
export interface DealLine {
  readonly quantity: number;
  /** Of one unit, in minor units. */
  readonly priceMinor: number;
  /** Per cent off, 0 to 100. */
  readonly discountPercent: number;
  readonly billing: 'once' | 'yearly';
}

export interface LineTotals {
  readonly onceMinor: number;
  /** Of one year. */
  readonly yearlyMinor: number;
  /** The deal's value: what is paid once, and the first year. */
  readonly totalMinor: number;
}

/**
 * One line's amount in minor units, rounded half up once, after quantity and discount.
 * @example lineMinor({ quantity: 3, priceMinor: 333, discountPercent: 10, billing: 'once' }) is 899
 */
export function lineMinor({ quantity, priceMinor, discountPercent }: DealLine): number {
  // Hundredths of units and of per cents as whole numbers: no binary fraction decides a penny, and none gets lost in a large sum.
  const parts =
    BigInt(Math.round(quantity * 100)) *
    BigInt(Math.round(priceMinor)) *
    BigInt(Math.round((100 - discountPercent) * 100));
  return Number((parts + 500_000n) / 1_000_000n);
}

/** Sums of the rounded lines, so that what is shown adds up. */
export function lineTotals(lines: readonly DealLine[]): LineTotals {
  const sum = (billing: DealLine['billing']) =>
    lines.reduce((total, line) => total + (line.billing === billing ? lineMinor(line) : 0), 0);
  const [onceMinor, yearlyMinor] = [sum('once'), sum('yearly')];
  return { onceMinor, yearlyMinor, totalMinor: onceMinor + yearlyMinor };
}
