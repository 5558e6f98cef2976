/** Counts of what became of leads and deals, and the values of those won in minor units. */
export interface LeadHistory {
  readonly qualified: number;
  readonly setAside: number;
  readonly won: number;
  readonly lost: number;
  readonly medianWonMinor: number;
}

const fewestCases = 30;

/**
 * What a lead is expected to bring, in minor units: median won value × share of leads that are qualified × share of deals
 * that are won. Null before thirty leads and thirty deals are decided.
 */
export function leadWorth(history: LeadHistory): number | null {
  const decided = history.qualified + history.setAside;
  const closed = history.won + history.lost;
  if (decided < fewestCases || closed < fewestCases) return null;
  return Math.round((history.medianWonMinor * history.qualified * history.won) / (decided * closed));
}
