import type { DealFact } from '@kettle/contract';

/** What is known of a deal, as far as a stage may ask for it. */
export interface KnownOfDeal {
  readonly amountMinor: number;
  readonly lineCount: number;
  readonly expectedCloseOn: string | null;
  readonly decisionOn: string | null;
  readonly roles: readonly string[];
  readonly competitors: readonly string[];
  /** Values of custom fields by field id. */
  readonly custom: Readonly<Record<string, unknown>>;
}

/**
 * The facts a stage needs and the deal lacks, in the stage's order.
 * @example missingFacts(['amount', 'decision'], { ...deal, amountMinor: 0, decisionOn: '2027-01-08' }) is ['amount']
 */
export function missingFacts(needs: readonly DealFact[], deal: KnownOfDeal): DealFact[] {
  return needs.filter((need) => !isKnown(need, deal));
}

function isKnown(need: DealFact, deal: KnownOfDeal): boolean {
  switch (need) {
    case 'amount':
      return deal.amountMinor > 0;
    case 'lines':
      return deal.lineCount > 0;
    case 'close':
      return deal.expectedCloseOn !== null;
    case 'decision':
      return deal.decisionOn !== null;
    case 'decider':
      return deal.roles.includes('decides');
    case 'signer':
      return deal.roles.includes('signs');
    case 'competitor':
      return deal.competitors.length > 0;
    default: {
      const value = deal.custom[need.slice('custom:'.length)];
      return value !== undefined && value !== null && value !== '';
    }
  }
}
