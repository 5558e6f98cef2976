import * as fc from 'fast-check';
import { isAtLeast, reachOf, type Led, type ReadingPolicy } from './index';

const people: readonly Led[] = [
  { id: 'top', managerId: null },
  { id: 'middle', managerId: 'top' },
  { id: 'rep', managerId: 'middle' },
  { id: 'beside', managerId: 'middle' },
  { id: 'other', managerId: null },
  { id: 'otherRep', managerId: 'other' },
  { id: 'free', managerId: null },
  { id: 'freeToo', managerId: null },
];
const list = (reach: 'everybody' | ReadonlySet<string>) =>
  reach === 'everybody' ? reach : [...reach].sort();
const reach = (id: string, role: 'rep' | 'manager' | 'admin', policy: ReadingPolicy) => {
  const { reads, changes } = reachOf({ id, role }, people, policy);
  return { reads: list(reads), changes: list(changes) };
};

test('an admin reaches everybody', () => {
  expect(reach('free', 'admin', 'own')).toEqual({ reads: 'everybody', changes: 'everybody' });
});

test('a manager changes what the people under them own, at any depth, and what those own whom nobody leads', () => {
  expect(reach('top', 'manager', 'all')).toEqual({
    reads: 'everybody',
    changes: ['beside', 'free', 'freeToo', 'middle', 'rep'],
  });
  expect(reach('other', 'manager', 'own').changes).toEqual(['free', 'freeToo', 'otherRep']);
});

test('a rep changes nobody else’s, and reads as far as the policy goes', () => {
  expect(reach('rep', 'rep', 'all')).toEqual({ reads: 'everybody', changes: [] });
  expect(reach('rep', 'rep', 'team')).toEqual({ reads: ['beside', 'middle'], changes: [] });
  expect(reach('rep', 'rep', 'own')).toEqual({ reads: [], changes: [] });
});

test('those whom nobody leads are a team, without those who lead', () => {
  expect(reach('free', 'rep', 'team').reads).toEqual(['freeToo']);
});

const ids = ['a', 'b', 'c', 'd', 'e', 'f'];
const trees = fc
  .tuple(...ids.map((id) => fc.constantFrom(null, ...ids.filter((other) => other !== id))))
  .map((managers): Led[] => ids.map((id, index) => ({ id, managerId: managers[index] ?? null })));

test('whatever the teams, also in a circle: nobody reaches themselves twice, and whoever may change may read', () => {
  fc.assert(
    fc.property(
      trees,
      fc.constantFrom('rep' as const, 'manager' as const),
      fc.constantFrom<ReadingPolicy>('all', 'team', 'own'),
      (tree, role, policy) => {
        const { reads, changes } = reachOf({ id: 'a', role }, tree, policy);
        if (changes === 'everybody') throw new Error('only an admin changes everybody’s');
        expect(changes.has('a')).toBe(false);
        if (reads !== 'everybody') for (const id of changes) expect(reads.has(id)).toBe(true);
        for (const { id, managerId } of tree)
          if (role === 'manager' && id !== 'a' && (managerId === 'a' || changes.has(managerId ?? '')))
            expect([id, changes.has(id) || isFreeManager(tree, managerId)]).toEqual([id, true]);
      },
    ),
  );
});

/** Somebody is changed for being led by nobody; who is under them is not changed for that. */
const isFreeManager = (tree: readonly Led[], id: string | null) =>
  tree.find((each) => each.id === id)?.managerId === null;

test('roles are in an order', () => {
  expect([isAtLeast('manager', 'rep'), isAtLeast('manager', 'manager'), isAtLeast('rep', 'manager')]).toEqual(
    [true, true, false],
  );
});
