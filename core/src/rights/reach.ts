import type { Role } from '@kettle/contract';

/** Whose records everybody may read: all, their team's, or their own alone. */
export type ReadingPolicy = 'all' | 'team' | 'own';

/** Somebody, and whoever leads them. */
export interface Led {
  readonly id: string;
  readonly managerId: string | null;
}

/** Whose records somebody may read and change, beside their own and nobody's. */
export interface Reach {
  readonly reads: 'everybody' | ReadonlySet<string>;
  readonly changes: 'everybody' | ReadonlySet<string>;
}

/**
 * Whose records somebody may read and change. An admin: everybody's. A manager changes those of the people under them, at any depth, and of
 * people whom nobody leads and who lead nobody. A rep changes no other's. Reading is as wide as the policy, and never narrower than changing;
 * a team are those with the same manager, and the manager.
 * @param people everybody; a circle of managers is gone round once
 * @param standsInFor those who are away and whose Round they work meanwhile: theirs is as one's own
 * @example
 * reachOf({ id: 'm', role: 'manager' }, [{ id: 'm', managerId: null }, { id: 'r', managerId: 'm' }], 'own').changes; // Set { 'r' }
 */
export function reachOf(
  who: { readonly id: string; readonly role: Role },
  people: readonly Led[],
  policy: ReadingPolicy,
  standsInFor: readonly string[] = [],
): Reach {
  if (who.role === 'admin') return { reads: 'everybody', changes: 'everybody' };
  const changes = who.role === 'manager' ? ledBy(who.id, people) : new Set<string>();
  for (const id of standsInFor) changes.add(id);
  if (policy === 'all') return { reads: 'everybody', changes };
  return { changes, reads: policy === 'own' ? changes : new Set([...changes, ...teamOf(who.id, people)]) };
}

function ledBy(id: string, people: readonly Led[]): Set<string> {
  const under = new Map<string | null, Led[]>();
  for (const each of people) {
    const beside = under.get(each.managerId);
    if (beside) beside.push(each);
    else under.set(each.managerId, [each]);
  }
  const led = new Set<string>();
  const next = [id];
  for (let one = next.pop(); one !== undefined; one = next.pop())
    for (const each of under.get(one) ?? [])
      if (!led.has(each.id) && each.id !== id) {
        led.add(each.id);
        next.push(each.id);
      }
  for (const each of under.get(null) ?? []) if (each.id !== id && !under.has(each.id)) led.add(each.id);
  return led;
}

/** Those with the same manager, and the manager; of people whom nobody leads, those who lead nobody. */
function teamOf(id: string, people: readonly Led[]): string[] {
  const mine = people.find((each) => each.id === id)?.managerId ?? null;
  const leading = new Set(people.map(({ managerId }) => managerId));
  const isBeside = (each: Led) => each.managerId === mine && (mine !== null || !leading.has(each.id));
  return people
    .filter((each) => each.id !== id && (isBeside(each) || each.id === mine))
    .map((each) => each.id);
}
