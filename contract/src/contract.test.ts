import { endpoints, routes, type EndpointName } from '.';
import { placed } from './api-keys/areas';
import { contactId } from './base/ids';
import { amountMinor, line, mostMinor, plainDate, zoneName } from './base/values';
import { cadenceStep } from './cadences/schemas';
import { createTask } from './tasks/schemas';
import { logEntry, nextStep } from './journal/schemas';
import { listContacts } from './contacts/schemas';
import { workingHours } from './users/schemas';

const id = '01938F6C-0000-7000-8000-000000000001';

describe('values', () => {
  test.each(['2026-02-29', '2026-13-01', '26-01-01', 'tomorrow', ''])('%j is no calendar date', (text) => {
    expect(plainDate.safeParse(text).success).toBe(false);
  });

  test('ids are read in lower case, so that one record has one name', () => {
    expect(contactId.parse(id)).toBe(id.toLowerCase());
    expect(contactId.safeParse('42').error?.issues[0]?.message).toBe('is not the id of a contact');
  });

  test('an amount is a whole number of the minor unit, not negative and not beyond reason', () => {
    expect([0, mostMinor].every((value) => amountMinor.safeParse(value).success)).toBe(true);
    expect([-1, 0.5, mostMinor + 1, '12', NaN].some((value) => amountMinor.safeParse(value).success)).toBe(
      false,
    );
  });

  test('a line is trimmed and never empty', () => {
    expect(line().parse('  call back ')).toBe('call back');
    expect(line().safeParse(' \n ').error?.issues[0]?.message).toBe('must not be empty');
    expect(line(5).safeParse('abcdef').success).toBe(false);
  });

  test('a zone is one the runtime knows', () => {
    expect(zoneName.safeParse('Europe/Lisbon').success).toBe(true);
    expect(zoneName.safeParse('Europe/Atlantis').error?.issues[0]?.message).toBe(
      'must be a time zone such as Europe/London',
    );
  });
});

describe('requests', () => {
  test('a task is about a person or a deal', () => {
    const task = { channel: 'call', purpose: 'ask', dueOn: '2026-11-24' };
    expect(createTask.safeParse(task).error?.issues[0]).toMatchObject({
      path: ['contactId'],
      message: 'a task is about a person or a deal',
    });
    expect(createTask.parse({ ...task, dealId: id })).toMatchObject({
      minutes: 6,
      promisedMinute: null,
      contactId: null,
    });
  });

  test('a window ends after it starts', () => {
    const step = {
      channel: 'call',
      offsetDays: 0,
      windowStart: 600,
      windowEnd: 600,
      minutes: 5,
      purpose: 'ask',
    };
    expect(cadenceStep.safeParse(step).error?.issues[0]?.path).toEqual(['windowEnd']);
    expect(cadenceStep.parse({ ...step, windowEnd: 601 }).fallbackChannel).toBeNull();
  });

  test('work ends after it starts, on at least one day', () => {
    expect(workingHours.safeParse({ weekdays: [1], start: 540, end: 540 }).success).toBe(false);
    expect(workingHours.safeParse({ weekdays: [8], start: 540, end: 600 }).success).toBe(false);
  });

  test('a log says what happens next', () => {
    const log = { id, contactId: id, outcomeId: 'call-spoke' };
    expect(logEntry.safeParse(log).error?.issues[0]?.path).toEqual(['next']);
    expect(logEntry.parse({ ...log, next: { kind: 'run' } })).toMatchObject({
      body: '',
      at: null,
    });
  });

  test.each([
    [{ kind: 'later' }],
    [{ kind: 'task', channel: 'call', dueOn: '2026-11-31', purpose: 'x' }],
    [{ kind: 'task', channel: 'call', dueOn: '2026-11-30', purpose: 'x', promisedMinute: 1500 }],
    [{ kind: 'none' }],
  ])('%j is no next step', (next) => {
    expect(nextStep.safeParse(next).success).toBe(false);
  });

  test('a list is asked for with words from an address', () => {
    expect(listContacts.parse({ limit: '20' })).toEqual({
      q: '',
      after: 0,
      owner: 'all',
      limit: 20,
      counted: 'yes',
    });
    expect(listContacts.safeParse({ limit: '5000' }).success).toBe(false);
    expect(listContacts.safeParse({ sort: 'shoe size' }).success).toBe(false);
  });
});

test('every request is of a part of the application that a key may or may not reach', () => {
  expect(Object.keys(endpoints).filter((name) => !placed.has(name))).toEqual([]);
});

describe('the table of routes', () => {
  const names = Object.keys(endpoints) as EndpointName[];

  test('has one entry for each address, and no address twice', () => {
    expect(Object.keys(routes).sort()).toEqual([...names].sort());
    expect(new Set(Object.values(endpoints)).size).toBe(names.length);
  });

  test('names its parameters where its address has them', () => {
    for (const name of names)
      expect([name, 'params' in routes[name]]).toEqual([name, endpoints[name].includes(':')]);
  });

  test('everything but the door needs somebody signed in', () => {
    const open = names.filter((name) => routes[name].access === 'anyone').sort();
    expect(open).toEqual([
      // By a link that only its receiver knows.
      'choosePassword',
      'createFirstAdmin',
      'doorstep',
      'forgotPassword',
      'health',
      'live',
      'openApi',
      'readLink',
      'signIn',
    ]);
  });
});
