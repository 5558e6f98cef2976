/** Something that happens to records: an event, and what it goes to where it goes to something; null is to any. */
export interface Signal {
  readonly event: string;
  readonly to: string | null;
}

/** What a rule waits for and what it makes happen. */
export interface RuleLinks {
  readonly id: string;
  readonly waitsFor: readonly Signal[];
  readonly causes: readonly Signal[];
}

/** A rule that waits for a move to any stage hears of a move to one; a move to some stage may be to the one that is waited for. */
const isHeard = (cause: Signal, wait: Signal) =>
  cause.event === wait.event && (cause.to === null || wait.to === null || cause.to === wait.to);

const setsOff = (one: RuleLinks, other: RuleLinks) =>
  one.causes.some((cause) => other.waitsFor.some((wait) => isHeard(cause, wait)));

/**
 * The shortest circle of rules that set each other off, as ids in the order in which they do; null when there is none. A rule that sets
 * itself off is a circle of one. Breadth-first from each rule; n rules cost n³ comparisons at most.
 * @example findCircle([a, b]) // ['a', 'b'] where a moves a deal, and b, which waits for that, sets the field that a waits for
 */
export function findCircle(rules: readonly RuleLinks[]): readonly string[] | null {
  const next = new Map(rules.map((one) => [one.id, rules.filter((other) => setsOff(one, other))]));
  let shortest: readonly string[] | null = null;
  for (const { id } of rules) {
    const circle = circleFrom(id, next);
    if (circle !== null && (shortest === null || circle.length < shortest.length)) shortest = circle;
  }
  return shortest;
}

function circleFrom(
  start: string,
  next: ReadonlyMap<string, readonly RuleLinks[]>,
): readonly string[] | null {
  const cameFrom = new Map<string, string>();
  let edge = [start];
  while (edge.length > 0) {
    const further: string[] = [];
    for (const at of edge)
      for (const { id } of next.get(at) ?? []) {
        if (id === start) return wayTo(at, cameFrom);
        if (cameFrom.has(id)) continue;
        cameFrom.set(id, at);
        further.push(id);
      }
    edge = further;
  }
  return null;
}

function wayTo(end: string, cameFrom: ReadonlyMap<string, string>): string[] {
  const way = [end];
  for (let at = cameFrom.get(end); at !== undefined; at = cameFrom.get(at)) way.unshift(at);
  return way;
}

/**
 * Whether a rule may act on what other rules did: not on what it set off itself, and not as the last of a chain that is too long.
 * @param chain the rules that led to what happened, the first one first
 */
export function mayFollow(ruleId: string, chain: readonly string[], longest: number): boolean {
  return !chain.includes(ruleId) && chain.length < longest;
}
