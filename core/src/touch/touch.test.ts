import type { Tally } from '../stats';
import { usualMinutes } from '@kettle/contract/base/channels';
import type { Channel } from '@kettle/contract';
import fc from 'fast-check';
import { calendarOf } from '../../testing/calendars';
import {
  checkInDueOn,
  defaultTouchPolicy,
  findOutcome,
  foldTouches,
  isQuiet,
  isTouch,
  type AnswerRates,
  bestHoursOf,
  proposeNextStep,
  rateOf,
  sayAnswers,
  sayBestHour,
  type RateTally,
  type ProposalFacts,
  type TouchEntry,
  touchRuleOf,
} from '.';

const entry = (at: string, part: Partial<TouchEntry> = {}): TouchEntry => ({
  at: `${at}T10:00:00.000Z`,
  kind: 'call',
  direction: 'out',
  counts: 'attempt',
  ...part,
});

describe('touch facts', () => {
  test('an attempt touches a prospect, and not a customer', () => {
    const tried = [entry('2026-11-10')];
    expect(foldTouches(tried, 'all').lastTouch?.at).toBe('2026-11-10T10:00:00.000Z');
    expect(foldTouches(tried, 'none').lastTouch).toBeNull();
  });

  test('a conversation starts the count of attempts again', () => {
    const facts = foldTouches(
      [
        entry('2026-11-01'),
        entry('2026-11-02', { counts: 'conversation' }),
        entry('2026-11-03'),
        entry('2026-11-04', { kind: 'email' }),
      ],
      'all',
    );
    expect([...facts.attempts]).toEqual([
      ['call', 1],
      ['email', 1],
    ]);
    expect(facts.lastConversationAt).toBe('2026-11-02T10:00:00.000Z');
    expect(facts.answers.get('call')).toEqual({ tried: 3, answered: 1 });
  });

  test('a letter from outside waits until something goes out', () => {
    const theirs = entry('2026-11-05', { kind: 'email', direction: 'in', counts: 'conversation' });
    expect(foldTouches([theirs], 'all').waitingSince).toBe('2026-11-05T10:00:00.000Z');
    expect(foldTouches([theirs, entry('2026-11-06')], 'all').waitingSince).toBeNull();
    expect(
      foldTouches([entry('2026-11-05', { direction: 'in', counts: 'conversation' })], 'all').waitingSince,
    ).toBeNull();
  });

  test('the order entries come in does not matter', () => {
    const entries = fc.uniqueArray(
      fc.record({
        day: fc.integer({ min: 1, max: 28 }),
        kind: fc.constantFrom<TouchEntry['kind']>('call', 'email', 'visit', 'note'),
        direction: fc.constantFrom<TouchEntry['direction']>('in', 'out'),
        counts: fc.constantFrom<TouchEntry['counts']>('attempt', 'conversation', 'none'),
      }),
      { selector: (each) => each.day, maxLength: 20 },
    );
    fc.assert(
      fc.property(entries, fc.boolean(), (drawn, isCustomer) => {
        const made = drawn.map(({ day, ...part }) => entry(`2026-11-${String(day).padStart(2, '0')}`, part));
        const rule = isCustomer ? 'none' : 'all';
        const one = foldTouches(made, rule);
        const other = foldTouches([...made].reverse(), rule);
        expect(other).toEqual(one);
      }),
    );
  });

  test('what is known of the first entries is carried on by the later ones', () => {
    const entries = fc.array(
      fc.record({
        kind: fc.constantFrom<TouchEntry['kind']>('call', 'email', 'text', 'visit', 'note'),
        direction: fc.constantFrom<TouchEntry['direction']>('in', 'out'),
        counts: fc.constantFrom<TouchEntry['counts']>('attempt', 'conversation', 'none'),
      }),
      { maxLength: 28 },
    );
    fc.assert(
      fc.property(
        entries,
        fc.nat(28),
        fc.constantFrom('all' as const, 'none' as const),
        (drawn, cut, rule) => {
          const made = drawn.map((part, index) =>
            entry(`2026-11-${String(index + 1).padStart(2, '0')}`, part),
          );
          const first = foldTouches(made.slice(0, cut), rule);
          expect(foldTouches(made.slice(cut), rule, first)).toEqual(foldTouches(made, rule));
        },
      ),
    );
  });
});

describe('what counts as a touch', () => {
  const voicemail = entry('2026-11-10', { outcomeId: 'call-voicemail' });

  test('a rule may name the outcomes that count', () => {
    expect(isTouch(voicemail, ['call-voicemail'])).toBe(true);
    expect(isTouch(voicemail, ['call-no-answer'])).toBe(false);
    expect(isTouch({ ...voicemail, counts: 'conversation' }, [])).toBe(true);
    expect(isTouch({ ...voicemail, counts: 'none' }, 'all')).toBe(false);
  });

  test('a standing goes before its group: a voicemail counts for a prospect, not for a key customer', () => {
    const policy = { ...defaultTouchPolicy, standings: { key: 'none' as const } };
    expect(touchRuleOf({ id: 'new', group: 'prospect' }, policy)).toBe('all');
    expect(touchRuleOf({ id: 'key', group: 'prospect' }, policy)).toBe('none');
  });
});

describe('check-ins', () => {
  const facts = { lastTouchOn: '2026-10-01', standingSetOn: '2026-01-01', standingDays: 30, ownDays: null };
  test.each([
    ['last touch plus the interval, on to the next working day', facts, '2026-11-02'],
    ['the own interval goes before the standing’s', { ...facts, ownDays: 7 }, '2026-10-08'],
    ['never touched counts from when the standing was set', { ...facts, lastTouchOn: null }, '2026-02-02'],
    ['no interval, no check-in', { ...facts, standingDays: null }, null],
  ])('%s', (_, given, expected) => {
    expect(checkInDueOn(given, calendarOf())).toBe(expected);
  });

  test('quiet begins the day after it was due', () => {
    expect(isQuiet('2026-11-24', '2026-11-24')).toBe(false);
    expect(isQuiet('2026-11-23', '2026-11-24')).toBe(true);
    expect(isQuiet(null, '2026-11-24')).toBe(false);
  });
});

const unknown: AnswerRates = { tallies: [], group: 'prospect', own: new Map(), ownHours: [] };
const onDay = (weekday: number, channel: Channel, hour: number, tried: number, answered: number) =>
  ({ channel, group: 'prospect', weekday, hour, tried, answered }) satisfies RateTally;
/** The same on Monday to Friday. */
const tally = (channel: Channel, hour: number, tried: number, answered: number) =>
  [1, 2, 3, 4, 5].map((weekday) => onDay(weekday, channel, hour, tried / 5, answered / 5));

describe('the proposed next step', () => {
  const propose = (outcome: string, part: Partial<ProposalFacts> = {}) =>
    proposeNextStep({
      outcome: findOutcome(outcome)!,
      contact: calendarOf(),
      now: '2026-11-24T10:00:00.000Z',
      attempts: new Map(),
      reachable: new Set<Channel>(['call', 'email', 'text', 'visit', 'meeting']),
      unwanted: new Set<Channel>(),
      minutes: { ...usualMinutes, call: 9 },
      rates: unknown,
      odds: null,
      runNext: null,
      ...part,
    });

  test.each([
    ['call-spoke', 'call', '2026-11-27'],
    ['call-busy', 'call', '2026-11-24'],
    ['meeting-missed', 'call', '2026-11-24'],
    ['email-sent', 'call', '2026-11-27'],
    ['email-came-in', 'email', '2026-11-24'],
    ['call-later', 'call', '2026-12-01'],
    ['call-wrong-number', 'other', '2026-11-24'],
  ])('after %s: %s on %s', (outcome, channel, on) => {
    expect(propose(outcome)).toMatchObject({ channel, on, step: { kind: 'task' } });
  });

  test('nobody who said no is chased', () => {
    expect(propose('call-not-interested')).toMatchObject({ step: { kind: 'none' }, on: null });
  });

  test('one unanswered call is tried at another time of day, two change the channel', () => {
    expect(propose('call-no-answer', { attempts: new Map([['call', 1]]) })).toMatchObject({
      channel: 'call',
      on: '2026-11-25',
      words: 'Call: try in the afternoon',
    });
    expect(propose('call-no-answer', { attempts: new Map([['call', 2]]) })).toMatchObject({
      channel: 'email',
      on: '2026-11-26',
      why: '2 tries by call without an answer: change the channel',
    });
  });

  test('the other channel is the one that they answer most, as is said', () => {
    const tallies = [...tally('email', 10, 100, 20), ...tally('text', 10, 100, 40)];
    const proposal = propose('call-no-answer', {
      attempts: new Map([['call', 2]]),
      rates: { ...unknown, tallies },
    });
    expect([proposal.channel, proposal.why]).toEqual([
      'text',
      '2 tries by call without an answer: change the channel; by text 40 % answer',
    ]);
    const own = new Map<Channel, Tally>([['email', { tried: 200, answered: 190 }]]);
    expect(
      propose('call-no-answer', { attempts: new Map([['call', 2]]), rates: { ...unknown, tallies, own } })
        .channel,
    ).toBe('email');
  });

  test('a visit is proposed only where no way is left that needs no appointment', () => {
    const tallies = [...tally('visit', 10, 100, 100), ...tally('email', 10, 100, 20)];
    const changed = (reachable: Channel[]) =>
      propose('call-no-answer', {
        attempts: new Map([['call', 2]]),
        reachable: new Set(reachable),
        rates: { ...unknown, tallies },
      }).channel;
    expect(changed(['call', 'email', 'visit'])).toBe('email');
    expect(changed(['call', 'visit'])).toBe('visit');
  });

  test('a call is tried again in the hour in which calls are answered most, and not in the one just tried', () => {
    const flat = [9, 12, 13, 14, 15].flatMap((hour) => tally('call', hour, 100, 15));
    const tallies = [...flat, ...tally('call', 16, 100, 45), ...tally('call', 10, 100, 60)];
    const proposal = propose('call-no-answer', {
      attempts: new Map([['call', 1]]),
      rates: { ...unknown, tallies },
    });
    expect(proposal.words).toBe('Call: try between 16:00 and 17:00');
    expect(proposal.why).toMatch(
      /^then 4\d % are answered, over the week 26 % \(100 tries at that hour, 20 on a Wednesday\)$/,
    );
    const few = [...flat, ...tally('call', 16, 20, 20)];
    expect(
      propose('call-no-answer', { attempts: new Map([['call', 1]]), rates: { ...unknown, tallies: few } })
        .words,
    ).toBe('Call: try in the afternoon');
  });

  test('a later day is waited for when its hour is so much better, and not for a little', () => {
    const day = (weekday: number, answered: number) => [
      ...[9, 12, 13, 14].map((hour) => onDay(weekday, 'call', hour, 400, 60)),
      onDay(weekday, 'call', 16, 400, answered),
    ];
    const triedOnTuesday = (wednesday: number, thursday: number) => {
      const tallies = [
        ...day(1, 60),
        ...day(2, 60),
        ...day(3, wednesday),
        ...day(4, thursday),
        ...day(5, 60),
      ];
      return propose('call-no-answer', {
        attempts: new Map([['call', 1]]),
        rates: { ...unknown, tallies },
      });
    };
    expect(triedOnTuesday(160, 320)).toMatchObject({
      on: '2026-11-26',
      words: 'Call: try between 16:00 and 17:00',
    });
    expect(triedOnTuesday(160, 170).on).toBe('2026-11-25');
    expect(triedOnTuesday(60, 320).on).toBe('2026-11-26');
  });

  test('once every way was tried it is to park or to stop, with the odds', () => {
    const attempts = new Map<Channel, number>([
      ['call', 3],
      ['email', 2],
      ['text', 2],
    ]);
    const facts = { attempts, reachable: new Set<Channel>(['call', 'email', 'text']) };
    expect(propose('call-no-answer', facts)).toMatchObject({
      step: {
        kind: 'none',
        reason: 'every way was tried: 3 tries by call, 2 tries by e-mail, 2 tries by text',
      },
      words: 'Park it, or stop: every way was tried',
      why: '3 tries by call, 2 tries by e-mail, 2 tries by text; nobody was tried so often yet',
    });
    const odds = { rate: 0.061, low: 0.03, high: 0.11, cases: 120 };
    expect(propose('call-no-answer', { ...facts, odds }).why).toContain(
      'the next try is answered within 30 days in 6 % (3 % to 11 %, 120 cases)',
    );
  });

  test('a cadence that goes on is the next step, unless the outcome ends it', () => {
    const runNext = { channel: 'email' as const, on: '2026-11-25', words: 'step 2' };
    expect(propose('call-no-answer', { runNext })).toMatchObject({ step: { kind: 'run' }, on: '2026-11-25' });
    expect(propose('call-spoke', { runNext })).toMatchObject({ step: { kind: 'task' } });
  });

  test('a channel that does not reach them is not proposed, and says so', () => {
    const proposal = propose('email-sent', { reachable: new Set(['email', 'visit']) });
    expect(proposal.channel).toBe('email');
    expect(proposal.why).toContain('no telephone number is known');
    const unwanted = new Set<Channel>(['call']);
    expect(propose('email-sent', { reachable: new Set(['email']), unwanted }).why).toContain(
      'they do not want to be reached by call',
    );
  });

  test('who was just spoken to can be reached that way, unless they do not want it', () => {
    const reachable = new Set<Channel>(['email']);
    expect(propose('call-spoke', { reachable })).toMatchObject({ channel: 'call' });
    expect(propose('call-spoke', { reachable, unwanted: new Set(['call']) })).toMatchObject({
      channel: 'email',
    });
    expect(propose('call-no-answer', { reachable })).toMatchObject({ channel: 'email' });
  });

  test('its purpose says by itself what is to be done, and takes as long as the organisation says', () => {
    expect(propose('meeting-held').step).toMatchObject({ purpose: 'follow up on the meeting', minutes: 9 });
    expect(propose('email-sent').step).toMatchObject({ purpose: 'ask whether the e-mail arrived' });
    expect(propose('email-came-in').step).toMatchObject({ purpose: 'answer their e-mail', minutes: 5 });
    const tried = { attempts: new Map<Channel, number>([['call', 2]]) };
    expect(propose('call-no-answer', tried).step).toMatchObject({ purpose: 'reach them by e-mail instead' });
  });

  test('weekends and holidays are counted out', () => {
    const contact = calendarOf({}, ['2026-11-25', 'off']);
    expect(propose('call-spoke', { contact }).on).toBe('2026-11-30');
  });
});

describe('how somebody answers', () => {
  // Beta-binomial shrinking worked by hand with a weight of 12 tries, the usual one while there is one group.
  test('their own tries draw the rate of people like them, by as much as they are', () => {
    const tallies = [onDay(2, 'call', 10, 88, 22)];
    const rate = (tried: number, answered: number) =>
      rateOf('call', { ...unknown, tallies, own: new Map([['call', { tried, answered }]]) })!.rate;
    expect(rate(0, 0)).toBeCloseTo(0.25, 10);
    expect(rate(12, 12)).toBeCloseTo((12 + 12 * 0.25) / 24, 10);
    expect(rate(1200, 0)).toBeLessThan(0.01);
    expect(rateOf('text', { ...unknown, tallies })).toBeNull();
  });

  test('no hour is the best where none is better, and only hours that may be proposed are looked at', () => {
    const same = [9, 10, 11, 14].flatMap((hour) => tally('call', hour, 200, 50));
    const always = () => true;
    expect(bestHoursOf('call', { ...unknown, tallies: same }, always)).toEqual([]);
    const tallies = [...same, ...tally('call', 16, 200, 120), ...tally('call', 20, 200, 190)];
    const found = (isOpen: (weekday: number, hour: number) => boolean) =>
      bestHoursOf('call', { ...unknown, tallies, group: 'customer' }, isOpen).map(
        ({ weekday, hour }) => `${weekday} ${hour}`,
      );
    expect(found((weekday) => weekday === 3)).toEqual(['3 20', '3 16']);
    expect(found((weekday, hour) => weekday === 3 && hour < 18)).toEqual(['3 16']);
    expect(found((_, hour) => hour < 15)).toEqual([]);
  });

  test('their own tries in an hour of the week draw its rate, as far as they go', () => {
    const tallies = [onDay(2, 'call', 10, 88, 22)];
    const best = (tried: number, answered: number) =>
      bestHoursOf(
        'call',
        { ...unknown, tallies, ownHours: [{ channel: 'call', weekday: 2, hour: 10, tried, answered }] },
        () => true,
      )[0];
    // (12 + 12 x 0.25) / 24, the hour of all being 22 of 88.
    expect(best(12, 12)).toMatchObject({ usual: 0.25, cases: 88, onTheDay: 88 });
    expect(best(12, 12)!.rate).toBeCloseTo(0.625, 10);
    expect(best(12, 0)).toBeUndefined();
    expect(sayBestHour(best(12, 12)!)).toBe(
      '63 % are answered, over the week 25 % (88 tries at that hour, 88 on a Tuesday; theirs 12 of 12)',
    );
  });

  test('a weekday of its own is known by its tries, and a quiet one is drawn to its hour', () => {
    const tallies = [9, 10, 11, 12, 13, 14].flatMap((hour) => tally('call', hour, 300, 60));
    const thursday = onDay(4, 'call', 15, 400, 320);
    const friday = onDay(5, 'call', 15, 3, 0);
    const best = bestHoursOf('call', { ...unknown, tallies: [...tallies, thursday, friday] }, () => true);
    expect(best.map(({ weekday, hour }) => [weekday, hour])[0]).toEqual([4, 15]);
    expect(best[0]!.rate).toBeGreaterThan(0.7);
    expect(best.find(({ weekday }) => weekday === 5)?.rate ?? 0).toBeLessThan(best[0]!.rate);
  });

  test('how they answer is said with its cases, the hours they work in only', () => {
    const tallies = [
      ...[9, 10, 11, 14].flatMap((hour) => tally('call', hour, 200, 40)),
      ...tally('call', 16, 200, 120),
      ...tally('call', 20, 200, 190),
      ...tally('email', 9, 100, 10),
    ];
    const [most, hour] = sayAnswers('call', ['email', 'call'], { ...unknown, tallies }, calendarOf());
    expect(most).toBe('Answered most: call, 39 % (1,200 tries of such people)');
    expect(hour).toMatch(/^Call: \w+day, 16:00 to 17:00: \d\d % are answered, over the week 39 %/);
    expect(sayAnswers('text', ['text'], unknown, calendarOf())).toEqual([]);
  });
});
