import * as fc from 'fast-check';
import { findCircle, mayFollow, type RuleLinks, type Signal } from './circles';

const signal = (event: string, to: string | null = null): Signal => ({ event, to });
const rule = (id: string, waitsFor: Signal[], causes: Signal[]): RuleLinks => ({ id, waitsFor, causes });

test('a rule that makes happen what it waits for is a circle of one', () => {
  expect(findCircle([rule('a', [signal('contact.changed')], [signal('contact.changed')])])).toEqual(['a']);
});

test('rules that set each other off are a circle, named in their order', () => {
  const rules = [
    rule('a', [signal('deal.moved')], [signal('contact.changed')]),
    rule('b', [signal('contact.changed')], [signal('task.created')]),
    rule('c', [signal('task.created')], [signal('deal.moved')]),
    rule('d', [signal('task.created')], []),
  ];
  expect(findCircle(rules)).toEqual(['a', 'b', 'c']);
  expect(findCircle(rules.slice(0, 2))).toBeNull();
});

test('what goes elsewhere than where it is waited for sets nothing off', () => {
  const moves = (to: string | null, waits: string | null) =>
    findCircle([rule('a', [signal('deal.moved', waits)], [signal('deal.moved', to)])]);
  expect([
    moves('offer', 'survey'),
    moves('offer', 'offer'),
    moves(null, 'offer'),
    moves('offer', null),
  ]).toEqual([null, ['a'], ['a'], ['a']]);
});

const signals = fc.record({
  event: fc.constantFrom('a', 'b', 'c', 'd', 'e'),
  to: fc.constantFrom(null, 'x', 'y'),
});
const someRules = fc
  .array(
    fc.record({ waitsFor: fc.array(signals, { maxLength: 2 }), causes: fc.array(signals, { maxLength: 2 }) }),
    {
      maxLength: 9,
    },
  )
  .map((list) => list.map((each, at): RuleLinks => ({ ...each, id: String(at) })));

/** The same from the other end: whether some rule is reached from itself, by multiplying out who sets off whom. */
function hasCircle(rules: readonly RuleLinks[]): boolean {
  const hears = (one: RuleLinks, other: RuleLinks) =>
    one.causes.some(({ event, to }) =>
      other.waitsFor.some((wait) => wait.event === event && (to ?? wait.to ?? '') === (wait.to ?? to ?? '')),
    );
  let reached = rules.map((one) => rules.map((other) => hears(one, other)));
  for (let step = 0; step < rules.length; step += 1)
    reached = reached.map((row, i) =>
      row.map((known, j) => known || rules.some((_, k) => reached[i]![k]! && reached[k]![j]!)),
    );
  return reached.some((row, i) => row[i]);
}

test('whatever the rules: a circle is found exactly where there is one, and it is one', () => {
  fc.assert(
    fc.property(someRules, (rules) => {
      const circle = findCircle(rules);
      expect(circle !== null).toBe(hasCircle(rules));
      if (circle === null) return;
      expect(new Set(circle).size).toBe(circle.length);
      circle.forEach((id, at) => {
        const [one, other] = [rules[Number(id)]!, rules[Number(circle[(at + 1) % circle.length])]!];
        expect(findCircle([rule('x', [...other.waitsFor], [...one.causes])])).toEqual(['x']);
      });
    }),
    { numRuns: 500 },
  );
});

test('whatever sets what off: a chain without repeats ends', () => {
  fc.assert(
    fc.property(fc.array(fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f', 'g'), { maxLength: 60 }), (asked) => {
      const chain: string[] = [];
      for (const id of asked) if (mayFollow(id, chain, 5)) chain.push(id);
      expect(chain.length).toBeLessThanOrEqual(5);
      expect(new Set(chain).size).toBe(chain.length);
    }),
  );
});
