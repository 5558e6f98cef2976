import { reactionsToMail, reactionToCall, reactionToText } from './habits';
import { TheirTime } from './their-time';

const addresses = Array.from({ length: 2000 }, (_, n) => `person${n}@firm${n % 60}.example`);

describe('habits', () => {
  test('the same seed, person and mail give the same; another seed another', () => {
    const once = addresses.map((address) => reactionsToMail('a', address, 0));
    expect(addresses.map((address) => reactionsToMail('a', address, 0))).toEqual(once);
    expect(addresses.map((address) => reactionsToMail('b', address, 0))).not.toEqual(once);
  });
  test('every kind of reaction happens, none to everybody', () => {
    const kinds = addresses.flatMap((address) => reactionsToMail('a', address, 0).map(({ kind }) => kind));
    for (const kind of ['open', 'click', 'answer', 'away', 'bounce', 'unsubscribe'] as const) {
      const times = kinds.filter((each) => each === kind).length;
      expect(times).toBeGreaterThan(10);
      expect(times).toBeLessThan(1500);
    }
  });
  test('an address that does not exist never does', () => {
    const [dead] = addresses.filter((address) => reactionsToMail('a', address, 0)[0]?.kind === 'bounce');
    expect(reactionsToMail('a', dead!, 1)).toEqual([{ kind: 'bounce', afterMinutes: 1 }]);
  });
  test('nobody answers what they have not opened', () => {
    for (const address of addresses) {
      const reactions = reactionsToMail('a', address, 2);
      const answer = reactions.find(({ kind }) => kind === 'answer');
      const open = reactions.find(({ kind }) => kind === 'open');
      if (answer) expect(answer.afterMinutes).toBeGreaterThan(open!.afterMinutes);
    }
  });
  test('calls and texts end in every way', () => {
    const ends = new Set(addresses.map((_, n) => reactionToCall('a', `+4416329${n}`, 'x').end));
    expect(ends.size).toBe(5);
    const texts = addresses.map((_, n) => reactionToText('a', `+4416329${n}`, 'x'));
    expect(new Set(texts.map(({ answer }) => answer)).size).toBe(3);
  });
});

test('their time passes as fast as it is told to, also when that changes', () => {
  jest.useFakeTimers();
  const time = new TheirTime(1);
  const seen: string[] = [];
  time.after(10, () => seen.push('ten'));
  time.after(600, () => seen.push('six hundred'));
  jest.advanceTimersByTime(9000);
  expect(seen).toEqual([]);
  jest.advanceTimersByTime(1100);
  expect(seen).toEqual(['ten']);
  time.speed = 600;
  jest.advanceTimersByTime(1100);
  expect([seen, time.waitingCount]).toEqual([['ten', 'six hundred'], 0]);
  time.stop();
  jest.useRealTimers();
});
