import type { OwnerRule } from '@kettle/contract';

/** What decides whose a new lead is. */
export interface NewLead {
  readonly country: string | null;
  readonly postcode: string | null;
  readonly city: string | null;
}

export interface Colleague {
  readonly id: string;
  /** Live leads they have now. */
  readonly liveLeads: number;
  /** When a rule last gave them one; null when never. */
  readonly lastGivenAt: string | null;
}

/**
 * Whose a new lead is by the organisation's rule; null is the pool. In turn: the one whose last was longest ago. By load:
 * the one with the fewest live leads. By region: the first region it lies in, else by the rule for the rest. Of equals the
 * one that is named first.
 */
export function ownerByRule(rule: OwnerRule, lead: NewLead, colleagues: readonly Colleague[]): string | null {
  const known = new Map(colleagues.map((each) => [each.id, each]));
  const among = (ids: readonly string[]) => ids.flatMap((id) => known.get(id) ?? []);
  switch (rule.kind) {
    case 'pool':
      return null;
    case 'in-turn':
      return least(among(rule.userIds), ({ lastGivenAt }) =>
        lastGivenAt === null ? 0 : Date.parse(lastGivenAt),
      );
    case 'load':
      return least(among(rule.userIds), ({ liveLeads }) => liveLeads);
    case 'region': {
      const home = rule.regions.find((region) => liesIn(region, lead));
      if (home && known.has(home.userId)) return home.userId;
      return ownerByRule(rule.otherwise, lead, colleagues);
    }
  }
}

function least(among: readonly Colleague[], of: (each: Colleague) => number): string | null {
  return (
    among.reduce<Colleague | null>((best, each) => (best === null || of(each) < of(best) ? each : best), null)
      ?.id ?? null
  );
}

/** A region names a country, and may name the beginnings of postcodes or towns in it. */
function liesIn(
  region: { readonly country: string; readonly places: readonly string[] },
  lead: NewLead,
): boolean {
  if (region.country !== lead.country) return false;
  if (region.places.length === 0) return true;
  const plain = (text: string | null) => (text ?? '').toLowerCase().replaceAll(' ', '');
  const [postcode, city] = [plain(lead.postcode), plain(lead.city)];
  return region.places.some((place) => {
    const wanted = plain(place);
    return wanted !== '' && (postcode.startsWith(wanted) || city === wanted);
  });
}
