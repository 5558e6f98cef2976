import type { CadenceDefinition, CadenceStep } from '@kettle/contract';
import fc from 'fast-check';
import { calendarOf } from '../../testing/calendars';
import { advance, startRun, type RunSetting } from './advance';
import { addDays } from '../time';
import { nothingTaken, plan } from './plan';
import { plainStep, type Run, type RunEffect, type RunEvent } from './run';

const step = (channel: CadenceStep['channel'], offsetDays: number): CadenceStep => ({
  channel,
  offsetDays,
  windowStart: 540,
  windowEnd: 1020,
  minutes: 5,
  purpose: `${channel} them`,
  ...plainStep,
});
const definition: CadenceDefinition = {
  steps: [step('call', 0), step('email', 1), step('call', 3)],
  answeredStep: null,
};
const settingAt = (now = '2026-11-24T09:30:00.000Z', part: Partial<RunSetting> = {}): RunSetting => ({
  definition,
  contact: { calendar: calendarOf(), doNotContact: new Set(), unreachable: new Set() },
  rep: calendarOf(),
  taken: nothingTaken,
  now,
  ...part,
});
const base = (id: string, at = '2026-11-24T09:30:00.000Z') => ({ id, at });
const started = () => startRun('2026-11-24', settingAt()).run;
const kinds = (effects: readonly RunEffect[]) => effects.map((effect) => effect.kind);

describe('starting a run', () => {
  test('plans the first step as a task', () => {
    const { run, effects } = startRun('2026-11-24', settingAt());
    expect(run).toMatchObject({ status: 'running', step: 0, nextOn: '2026-11-24', exitReason: null });
    expect(effects).toEqual([
      {
        kind: 'create-task',
        step: 0,
        channel: 'call',
        on: '2026-11-24',
        at: '2026-11-24T09:30:00.000Z',
        minutes: 5,
        purpose: 'call them',
      },
    ]);
  });

  test('a person nobody can reach ends it at once, with the reason', () => {
    const contact = {
      calendar: calendarOf(),
      doNotContact: new Set<never>(),
      unreachable: new Set(['call', 'email'] as const),
    };
    const { run, effects } = startRun('2026-11-24', settingAt(undefined, { contact }));
    expect(run).toMatchObject({
      status: 'finished',
      nextOn: null,
      exitReason: 'no step is possible for this person',
    });
    expect(effects).toEqual([]);
  });
});

describe('advancing a run', () => {
  const done = (id: string, at: number, endsRun = false): RunEvent => ({
    ...base(id),
    kind: 'step-done',
    step: at,
    counts: 'attempt',
    endsRun,
    words: 'spoke (call)',
  });

  test('a step done brings the next one, and the last one finishes it', () => {
    let run = started();
    const seen: (string | null)[] = [];
    ['a', 'b', 'c'].forEach((id, index) => {
      ({ run } = advance(run, done(id, index), settingAt()));
      seen.push(run.nextOn);
    });
    expect(seen).toEqual(['2026-11-25', '2026-11-27', null]);
    expect(run).toMatchObject({ status: 'finished', step: 3, exitReason: 'all steps are done' });
  });

  test('an outcome that reaches the purpose ends it with the outcome as reason', () => {
    const { run, effects } = advance(started(), done('a', 0, true), settingAt());
    expect(run).toMatchObject({ status: 'finished', exitReason: 'spoke (call)' });
    expect(kinds(effects)).toEqual(['cancel-task']);
  });

  test('a step that is not the current one changes nothing', () => {
    expect(advance(started(), done('late', 2), settingAt()).run).toMatchObject({
      step: 0,
      nextOn: '2026-11-24',
    });
  });

  test.each<[string, RunEvent, Partial<Run>, string[]]>([
    [
      'a reply finishes it',
      { ...base('e'), kind: 'replied', channel: 'email' },
      { status: 'finished', exitReason: 'replied by email' },
      ['cancel-task', 'notify'],
    ],
    [
      'a booked meeting finishes it',
      { ...base('e'), kind: 'meeting-booked' },
      { status: 'finished', exitReason: 'a meeting is booked' },
      ['cancel-task'],
    ],
    [
      'a lost deal stops it',
      { ...base('e'), kind: 'deal-closed', as: 'lost' },
      { status: 'stopped', exitReason: 'the deal was lost' },
      ['cancel-task'],
    ],
    [
      'an unsubscribe stops it and marks the channel for good',
      { ...base('e'), kind: 'unsubscribed', channel: 'email' },
      { status: 'stopped', exitReason: 'unsubscribed from email' },
      ['cancel-task', 'mark-do-not-contact'],
    ],
    [
      'a stop by hand has its reason',
      { ...base('e'), kind: 'stopped', reason: 'changed jobs' },
      { status: 'stopped', exitReason: 'changed jobs' },
      ['cancel-task'],
    ],
    [
      'a pause takes the task away',
      { ...base('e'), kind: 'paused', until: null },
      { status: 'paused', nextOn: null },
      ['cancel-task'],
    ],
    [
      'an out of office pauses to the day after',
      { ...base('e'), kind: 'out-of-office', until: '2026-12-03' },
      { status: 'paused', pausedUntil: '2026-12-04' },
      ['cancel-task'],
    ],
    [
      'an out of office without a date pauses five working days',
      { ...base('e'), kind: 'out-of-office', until: null },
      { status: 'paused', pausedUntil: '2026-12-01' },
      ['cancel-task'],
    ],
    [
      'a new owner takes the task over',
      { ...base('e'), kind: 'owner-changed', ownerName: 'Dara' },
      { status: 'running', nextOn: '2026-11-24' },
      ['hand-over', 'notify'],
    ],
    [
      'a skipped step brings the next',
      { ...base('e'), kind: 'step-skipped', step: 0, reason: 'not today' },
      { step: 1, nextOn: '2026-11-25' },
      ['cancel-task', 'create-task'],
    ],
  ])('%s', (_, event, expected, effects) => {
    const result = advance(started(), event, settingAt());
    expect(result.run).toMatchObject(expected);
    expect(kinds(result.effects)).toEqual(effects);
  });

  test('a bounce marks the address and goes on without it', () => {
    const { run: second } = advance(started(), done('a', 0), settingAt());
    const { run, effects } = advance(
      second,
      { ...base('b'), kind: 'bounced', channel: 'email' },
      settingAt(),
    );
    expect(run).toMatchObject({ status: 'running', step: 2 });
    expect(kinds(effects)).toEqual(['cancel-task', 'mark-unusable', 'create-task']);
  });

  test('a pause that is resumed plans the same step from today', () => {
    const { run: paused } = advance(started(), { ...base('p'), kind: 'paused', until: null }, settingAt());
    const later = '2026-12-02T09:00:00.000Z';
    const { run, effects } = advance(paused, { ...base('r', later), kind: 'resumed' }, settingAt(later));
    expect(run).toMatchObject({ status: 'running', step: 0, nextOn: '2026-12-02' });
    expect(kinds(effects)).toEqual(['create-task']);
  });

  test('an unsubscribe after the end still marks the channel', () => {
    const { run: ended } = advance(
      started(),
      { ...base('s'), kind: 'stopped', reason: 'enough' },
      settingAt(),
    );
    const { run, effects } = advance(
      ended,
      { ...base('u'), kind: 'unsubscribed', channel: 'email' },
      settingAt(),
    );
    expect(run.exitReason).toBe('enough');
    expect(kinds(effects)).toEqual(['mark-do-not-contact']);
  });
});

const anyEvent: fc.Arbitrary<RunEvent> = fc
  .tuple(
    fc.integer({ min: 0, max: 12 }),
    fc.integer({ min: 0, max: 20 }),
    fc.oneof(
      fc.record({
        kind: fc.constant('step-done' as const),
        step: fc.integer({ min: 0, max: 3 }),
        counts: fc.constant('attempt' as const),
        endsRun: fc.boolean(),
        words: fc.constant('done'),
      }),
      fc.record({
        kind: fc.constant('step-skipped' as const),
        step: fc.integer({ min: 0, max: 3 }),
        reason: fc.constant('no'),
      }),
      fc.record({
        kind: fc.constantFrom('replied' as const, 'bounced' as const, 'unsubscribed' as const),
        channel: fc.constantFrom('call' as const, 'email' as const),
      }),
      fc.record({ kind: fc.constant('out-of-office' as const), until: fc.constantFrom(null, '2026-12-20') }),
      fc.record({ kind: fc.constantFrom('meeting-booked' as const, 'resumed' as const) }),
      fc.record({ kind: fc.constant('paused' as const), until: fc.constantFrom(null, '2026-12-10') }),
      fc.record({ kind: fc.constant('stopped' as const), reason: fc.constant('enough') }),
      fc.record({
        kind: fc.constantFrom('sent' as const, 'not-sent' as const),
        step: fc.integer({ min: 0, max: 3 }),
        reason: fc.constant('a fact is missing'),
      }),
      fc.record({
        kind: fc.constant('sign' as const),
        sign: fc.constantFrom('opened' as const, 'spoke' as const),
      }),
      fc.record({
        kind: fc.constant('contact-merged' as const),
        into: fc.constant('Maud'),
        isOnIt: fc.boolean(),
      }),
      fc.record({
        kind: fc.constant('definition-moved' as const),
        mapping: fc.array(fc.option(fc.integer({ min: 0, max: 2 })), { maxLength: 3 }),
        definition: fc.constant(definition),
      }),
    ),
  )
  .map(([id, day, event]) => ({
    ...event,
    id: `event-${id}`,
    at: new Date(Date.UTC(2026, 10, 24 + day, 9, 30)).toISOString(),
  }));

describe('steps that go by themselves', () => {
  const mail = { ...step('email', 1), mode: 'by-itself' as const, templateIds: ['t' as never] };
  const sending: CadenceDefinition = {
    steps: [step('call', 0), mail, { ...step('call', 2), skipWhen: ['opened'] }, step('visit', 1)],
    answeredStep: 3,
  };
  const at = (now?: string, part: Partial<RunSetting> = {}) =>
    settingAt(now, { definition: sending, ...part });
  const atMail = () =>
    advance(
      startRun('2026-11-24', at()).run,
      { ...base('a'), kind: 'step-done', step: 0, counts: 'attempt', endsRun: false, words: '' },
      at(),
    );

  test('are to be sent at their moment, inside the window', () => {
    expect(atMail().effects).toMatchObject([
      { kind: 'send', channel: 'email', at: '2026-11-25T09:00:00.000Z' },
    ]);
  });
  test('once sent, the next one is planned from that day', () => {
    const later = '2026-11-25T09:00:05.000Z';
    const { run, effects } = advance(atMail().run, { ...base('b', later), kind: 'sent', step: 1 }, at(later));
    expect([run.step, run.nextOn, kinds(effects)]).toEqual([2, '2026-11-27', ['create-task']]);
  });
  test('what could not go by itself becomes a task for today', () => {
    const event: RunEvent = { ...base('b'), kind: 'not-sent', step: 1, reason: 'no name is known' };
    const { run, effects } = advance(atMail().run, event, at());
    expect([run.step, kinds(effects)]).toEqual([1, ['cancel-task', 'notify', 'create-task']]);
  });
  test('an answer leads to the step that is meant for it, a second one ends the run', () => {
    const first = advance(atMail().run, { ...base('r'), kind: 'replied', channel: 'email' }, at());
    expect([first.run.status, first.run.step]).toEqual(['running', 3]);
    expect(kinds(first.effects)).toEqual(['cancel-task', 'notify', 'create-task']);
    const second = advance(first.run, { ...base('s'), kind: 'replied', channel: 'email' }, at());
    expect(second.run).toMatchObject({ status: 'finished', exitReason: 'replied by email' });
  });
  test('an opened mail makes the call needless that says so', () => {
    const { run: waiting } = advance(atMail().run, { ...base('b'), kind: 'sent', step: 1 }, at());
    const { run, effects } = advance(waiting, { ...base('c'), kind: 'sign', sign: 'opened' }, at());
    expect([run.step, kinds(effects)]).toEqual([3, ['cancel-task', 'create-task']]);
    expect(advance(waiting, { ...base('c'), kind: 'sign', sign: 'clicked' }, at()).run.step).toBe(2);
  });
  test('on its other channel a step is done by hand', () => {
    const contact = { ...settingAt().contact, unreachable: new Set(['email'] as const) };
    const fallback: CadenceDefinition = { steps: [{ ...mail, fallbackChannel: 'call' }], answeredStep: null };
    const { effects } = startRun('2026-11-24', at(undefined, { contact, definition: fallback }));
    expect(effects).toMatchObject([{ kind: 'create-task', channel: 'call' }]);
  });
  test('moved to another version, the run goes on at the step that its own became, or ends with a reason', () => {
    const moved = (mapping: (number | null)[]) =>
      advance(atMail().run, { ...base('m'), kind: 'definition-moved', mapping, definition }, at());
    expect(moved([0, 2]).run).toMatchObject({ status: 'running', step: 2 });
    expect(moved([0, null]).run).toMatchObject({
      status: 'stopped',
      exitReason: expect.stringContaining('new version'),
    });
  });
  test('merged with somebody who is on it already, the run ends; else it is planned anew', () => {
    const merged = (isOnIt: boolean) =>
      advance(atMail().run, { ...base('m'), kind: 'contact-merged', into: 'Maud', isOnIt }, at());
    expect(merged(true).run).toMatchObject({
      status: 'stopped',
      exitReason: 'merged into Maud, who is on it already',
    });
    expect(merged(false).run.status).toBe('running');
  });
});

describe('the preview and the run', () => {
  test('a step that is done is a touch of its day: the next one is on another, also with no days between', () => {
    const twoAtOnce = { ...definition, steps: [step('call', 0), step('email', 0)] };
    const setting = settingAt('2026-11-24T09:30:00.000Z', { definition: twoAtOnce });
    const { run } = startRun('2026-11-24', setting);
    const done = advance(
      run,
      { ...base('e1'), kind: 'step-done', step: 0, counts: 'attempt', endsRun: false, words: 'spoke' },
      setting,
    );
    expect(done.run.nextOn).toBe('2026-11-25');
  });

  test('plan the same moments, whatever the days, hours and holidays', () => {
    const steps = fc.array(
      fc.record({
        offsetDays: fc.integer({ min: 0, max: 6 }),
        windowStart: fc.integer({ min: 480, max: 900 }),
        length: fc.integer({ min: 60, max: 300 }),
        isByItself: fc.boolean(),
      }),
      { minLength: 1, maxLength: 6 },
    );
    const offs = fc.array(fc.integer({ min: 0, max: 40 }), { maxLength: 6 });
    const zones = fc.constantFrom('Europe/Lisbon', 'America/New_York', 'Asia/Kolkata', 'Australia/Sydney');
    fc.assert(
      fc.property(steps, offs, offs, zones, (drawn, theirOffs, ourOffs, zone) => {
        const start = '2026-11-24';
        const holiday = (off: number): [string, string] => [addDays(start, off), 'off'];
        const drawnSteps = drawn.map(({ offsetDays, windowStart, length, isByItself }) => ({
          ...step(isByItself ? 'email' : 'call', offsetDays),
          ...{ windowStart, windowEnd: windowStart + length },
          ...(isByItself ? { mode: 'by-itself' as const } : {}),
        }));
        const contact = {
          calendar: calendarOf({ zone }, ...theirOffs.map(holiday)),
          ...{ doNotContact: new Set<never>(), unreachable: new Set<never>() },
        };
        const of = (now: string): RunSetting =>
          settingAt(now, {
            definition: { steps: drawnSteps, answeredStep: null },
            contact,
            rep: calendarOf({}, ...ourOffs.map(holiday)),
          });
        const now = `${start}T06:00:00.000Z`;
        const previewed = plan(of(now).definition, start, of(now)).flatMap((each) =>
          each.kind === 'planned' ? [[each.step, each.on, each.at]] : [],
        );
        const walked: unknown[] = [];
        let { run, effects } = startRun(start, of(now));
        for (let n = 0; run.status === 'running'; n += 1) {
          const [next] = effects.filter((each) => each.kind === 'create-task' || each.kind === 'send');
          if (!next || !('at' in next)) break;
          walked.push([next.step, next.on, next.at]);
          const event = {
            id: `e${n}`,
            at: next.at,
            kind: 'step-done',
            step: next.step,
            counts: 'attempt',
            endsRun: false,
            words: '',
          } as const;
          ({ run, effects } = advance(run, event, of(next.at)));
        }
        expect(walked).toEqual(previewed);
      }),
    );
  });
});

describe('any sequence of events', () => {
  const follow = (events: readonly RunEvent[]) =>
    events.reduce(
      ({ run, effects }, event) => {
        const next = advance(run, event, settingAt(event.at));
        return { run: next.run, effects: [...effects, ...next.effects] };
      },
      startRun('2026-11-24', settingAt()) as { run: Run; effects: readonly RunEffect[] },
    );

  test('leaves a run in a valid state: an end has a reason and nothing planned, a live one knows its day', () => {
    fc.assert(
      fc.property(fc.array(anyEvent, { maxLength: 15 }), (events) => {
        const { run } = follow(events);
        const hasEnded = run.status === 'finished' || run.status === 'stopped';
        expect(hasEnded).toBe(run.exitReason !== null);
        if (run.status === 'running') expect(run.nextOn).not.toBeNull();
        else expect(run.nextOn).toBeNull();
        expect(run.step).toBeLessThanOrEqual(definition.steps.length);
      }),
    );
  });

  test('the same event twice is the same as once', () => {
    fc.assert(
      fc.property(fc.array(anyEvent, { minLength: 1, maxLength: 12 }), (events) => {
        const once = follow(events);
        const twice = follow(events.flatMap((event) => [event, event]));
        expect(twice).toEqual(once);
      }),
    );
  });
});
