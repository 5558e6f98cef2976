import { lineMinor, type DealLine } from '../deals';

/** A line that is offered. */
export interface OfferedLine extends DealLine {
  /** Per cent. */
  readonly taxPercent: number;
  readonly isOptional: boolean;
  /** An optional one that the customer took. */
  readonly isChosen: boolean;
}

export interface TaxSum {
  readonly percent: number;
  readonly netMinor: number;
  readonly taxMinor: number;
}

export interface OfferedTotals {
  readonly netMinor: number;
  /** By rate, the highest first. */
  readonly taxes: readonly TaxSum[];
  readonly taxMinor: number;
  readonly totalMinor: number;
}

/** Whether a line counts: it is not optional, or was chosen. */
export const counts = ({ isOptional, isChosen }: Pick<OfferedLine, 'isOptional' | 'isChosen'>): boolean =>
  !isOptional || isChosen;

/**
 * What lines come to, as EN 16931 has it: each line's net rounded once, half away from zero; the tax of a rate is that of the sum of its lines,
 * rounded once (BR-CO-17), never the sum of the lines' taxes; the sums add up (BR-CO-10, 13, 14, 15). Minor units.
 * @example offeredTotals([{ quantity: 1, priceMinor: 1000, discountPercent: 0, billing: 'once', taxPercent: 20, isOptional: false, isChosen: false }]).totalMinor is 1200
 */
export function offeredTotals(lines: readonly OfferedLine[]): OfferedTotals {
  const nets = new Map<number, number>();
  for (const line of lines)
    if (counts(line)) nets.set(line.taxPercent, (nets.get(line.taxPercent) ?? 0) + lineMinor(line));
  const taxes = [...nets]
    .sort(([one], [other]) => other - one)
    .map(([percent, netMinor]) => ({ percent, netMinor, taxMinor: taxOf(netMinor, percent) }));
  const sum = (of: (tax: TaxSum) => number) => taxes.reduce((total, tax) => total + of(tax), 0);
  const [netMinor, taxMinor] = [sum((tax) => tax.netMinor), sum((tax) => tax.taxMinor)];
  return { netMinor, taxes, taxMinor, totalMinor: netMinor + taxMinor };
}

/** Hundredths of a per cent as whole numbers: no binary fraction decides a penny. */
function taxOf(netMinor: number, percent: number): number {
  const parts = BigInt(netMinor) * BigInt(Math.round(percent * 100));
  return Number((parts + 5_000n) / 10_000n);
}
