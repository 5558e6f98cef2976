import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import type { Appointment, CalendarEntry } from '@kettle/contract';
import { showPart, type Part } from '../../../testing/part';
import { AppointmentDialog, type AppointmentAsked } from './appointment-dialog';
import { AppointmentActs } from './appointment-acts';
import { CalendarPage } from './calendar-page';
import { CallOffDialog } from './call-off-dialog';

const said = (root: Element) => root.textContent.replace(/\s+/g, ' ').trim();
const address = () => new URL(TestBed.inject(Router).url, 'http://kettle.test').searchParams;
/** The day of the tests is Tuesday 24 November. */
const at = (time: string, day = 24) => `2026-11-${day}T${time}:00.000Z`;
const id = (n: number) => `00000000-0000-7000-8000-00000000000${n}`;

const anEntry = (part: object = {}): CalendarEntry =>
  ({
    ...{ kind: 'appointment', id: id(1), ownerId: 'me', personIds: ['me'], title: 'Survey' },
    ...{ startsAt: at('10:00', 25), endsAt: at('11:00', 25), travelMinutes: 0, travelAfterMinutes: 0 },
    ...{
      place: 'Mill Lane',
      channel: 'visit',
      contactId: id(7),
      contactName: 'Maud Ellery',
      companyName: 'Pell Spa',
    },
    ...{ dealId: null, dealName: null, taskId: id(8), state: 'planned', mayChange: true, version: 3 },
    ...part,
  }) as unknown as CalendarEntry;

const aDay = (on: string, part: object = {}) => ({
  on,
  isOff: false,
  holiday: null,
  tasks: 0,
  steps: 0,
  notes: [],
  ...part,
});
const week = ['23', '24', '25', '26', '27', '28', '29'].map((day) =>
  aDay(`2026-11-${day}`, { isOff: day >= '28', ...(day === '24' && { tasks: 3, steps: 1 }) }),
);

const anAppointment = (part: object = {}): Appointment =>
  ({
    ...{
      id: id(1),
      title: 'Survey',
      ownerId: 'me',
      ownerName: 'Imogen Thorne',
      version: 3,
      state: 'planned',
    },
    ...{
      startsAt: at('10:00', 25),
      endsAt: at('11:00', 25),
      place: 'Mill Lane',
      note: null,
      channel: 'visit',
    },
    ...{ travelMinutes: 20, travelAfterMinutes: 0, contactId: null, contactName: null, companyName: null },
    ...{ dealId: null, dealName: null, guests: [], colleagues: [], taskId: null, remindMinutes: null },
    ...{ invites: false, invitations: [] },
    ...part,
  }) as unknown as Appointment;

describe('the calendar', () => {
  const show = async (inputs: object, body: object) => {
    const part = await showPart(CalendarPage, { inputs: { ...inputs } });
    await part.answer('/api/calendar', { people: [], ...body });
    return part;
  };
  const press = (element: Element, init: KeyboardEventInit) =>
    element.dispatchEvent(new KeyboardEvent('keydown', { bubbles: true, cancelable: true, ...init }));
  const bodyOf = (part: Part<unknown>) => part.root.querySelector<HTMLElement>('.entry .body')!;

  test('asks for the week of today', async () => {
    const part = await showPart(CalendarPage, { inputs: {} });
    const asked = part.asked('/api/calendar').request.params;
    expect([asked.get('from'), asked.get('days'), asked.get('who')]).toEqual(['2026-11-23', '7', 'mine']);
  });

  test('each entry stands in its day with time, purpose and place, and what a day has without a time is a link', async () => {
    const part = await show({}, { days: week, entries: [anEntry()] });
    const cells = [...part.root.querySelectorAll('.cell')].map(said);
    expect(cells.map((each) => each !== '')).toEqual([false, false, true, false, false, false, false]);
    expect(cells[2]).toBe('Maud Ellery10:00–11:00 · Survey · Mill Lane');
    expect(bodyOf(part).getAttribute('aria-label')).toBe(
      'Wed 25 Nov 10:00 to 11:00: Maud Ellery, Survey, Mill Lane',
    );
    const link = part.root.querySelector<HTMLAnchorElement>('.head.today a')!;
    expect(said(link)).toBe('3 tasks, 1 step');
    expect(new URL(link.href).searchParams.get('filter')).toContain('"ask":"after","value":"2026-11-23"');
    expect(part.root.querySelectorAll('.cell.off')).toHaveLength(2);
  });

  test('Alt and the arrows move it: several presses are one move, with an undo', async () => {
    const part = await show({}, { days: week, entries: [anEntry()] });
    // Faster than they are drawn.
    press(bodyOf(part), { key: 'ArrowDown', altKey: true });
    press(bodyOf(part), { key: 'ArrowDown', altKey: true });
    press(bodyOf(part), { key: 'ArrowRight', altKey: true });
    press(bodyOf(part), { key: 'ArrowDown', altKey: true, shiftKey: true });
    await part.settle();
    expect(bodyOf(part).getAttribute('aria-label')).toContain('Thu 26 Nov 10:30 to 11:45');
    part.server.expectNone(`/api/appointments/${id(1)}`);
    await part.pass(450);
    const asked = part.asked(`/api/appointments/${id(1)}`);
    expect(asked.request.body).toEqual({ version: 3, startsAt: at('10:30', 26), minutes: 75 });
    asked.flush(anAppointment());
    await part.pass(0);
    expect(document.body.textContent).toContain('Moved to Thu 26 Nov 10:30: Survey.');
    expect(await part.undoOf(asked)).toBeTruthy();
  });

  test('a refused move says why and shows what is', async () => {
    const part = await show({}, { days: week, entries: [anEntry()] });
    press(bodyOf(part), { key: 'ArrowUp', altKey: true });
    await part.pass(450);
    await part.refuse(`/api/appointments/${id(1)}`, {
      status: 409,
      code: 'stale',
      detail: 'It was changed.',
    });
    await part.answer('/api/calendar', { people: [], days: week, entries: [anEntry()] });
    expect(bodyOf(part).getAttribute('aria-label')).toContain('10:00 to 11:00');
    expect(document.body.textContent).toContain('It was changed.');
  });

  test('one made while another is on its way follows it with its version, and one undo takes both back', async () => {
    const part = await show({}, { days: week, entries: [anEntry()] });
    const path = `/api/appointments/${id(1)}`;
    press(bodyOf(part), { key: 'ArrowDown', altKey: true });
    await part.pass(450);
    const first = part.asked(path);
    press(bodyOf(part), { key: 'ArrowRight', altKey: true });
    await part.pass(450);
    expect(bodyOf(part).getAttribute('aria-label')).toContain('Thu 26 Nov 10:15 to 11:15');
    part.server.expectNone(path);
    first.flush(anAppointment({ version: 4 }));
    await part.pass(0);
    const second = part.asked(path);
    expect(second.request.body).toEqual({ version: 4, startsAt: at('10:15', 26), minutes: 60 });
    second.flush(anAppointment({ version: 5 }));
    await part.pass(0);
    expect(document.body.textContent).toContain('Moved to Thu 26 Nov 10:15: Survey.');
    expect(bodyOf(part).getAttribute('aria-label')).toContain('Thu 26 Nov 10:15 to 11:15');
    (await part.undoOf(second)).flush({});
    expect(part.asked(`/api/changes/${first.request.headers.get('X-Change-Id')!}/undo`)).toBeTruthy();
  });

  test('a promised call is moved as the task it is', async () => {
    const call = anEntry({ kind: 'task', channel: 'call', endsAt: at('10:10', 25) });
    const part = await show({}, { days: week, entries: [call] });
    press(bodyOf(part), { key: 'ArrowLeft', altKey: true });
    await part.pass(450);
    expect(part.asked(`/api/tasks/${id(1)}`).request.body).toEqual({
      ...{ version: 3, dueOn: '2026-11-24', promisedMinute: 600, minutes: 10 },
    });
  });

  test('one that is over asks whether it took place; a colleague’s that may not be read is only busy', async () => {
    const over = anEntry({ startsAt: at('08:00'), endsAt: at('09:00') });
    const busy = anEntry({
      kind: 'busy',
      id: id(2),
      title: '',
      contactName: null,
      companyName: null,
      mayChange: false,
    });
    const part = await show({}, { days: week, entries: [over, busy] });
    const [first, second] = [...part.root.querySelectorAll('.entry')];
    expect(first!.className).toContain('asks');
    expect(first!.querySelector('.body')!.getAttribute('aria-label')).toContain('Did it take place?');
    expect([said(second!), second!.querySelector('button')!.disabled]).toEqual(['busy10:00–11:00', true]);
  });

  test('the team stands side by side on one day, each with their own', async () => {
    const people = [
      { userId: 'me', name: 'Imogen Thorne' },
      { userId: 'u2', name: 'Owen Marsh' },
    ];
    const entries = [anEntry({ personIds: ['u2'], startsAt: at('10:00'), endsAt: at('11:00') })];
    const part = await show({ who: 'team' }, { people, days: [week[1]], entries });
    expect([...part.root.querySelectorAll('.head')].map(said)).toEqual(['Imogen Thorne', 'Owen Marsh']);
    expect(
      [...part.root.querySelectorAll('.cell')].map((cell) => cell.querySelectorAll('.entry').length),
    ).toEqual([0, 1]);
  });

  test('a month shows whole weeks, three entries a day, and the rest by a press on the day', async () => {
    const days = Array.from({ length: 42 }, (_, n) =>
      aDay(new Date(Date.UTC(2026, 9, 26 + n)).toISOString().slice(0, 10)),
    );
    const entries = [1, 2, 3, 4].map((n) =>
      anEntry({ id: id(n), startsAt: at(`1${n}:00`, 25), endsAt: at(`1${n}:30`, 25) }),
    );
    const part = await show({ view: 'month' }, { days, entries });
    const cell = part.root.querySelector('[data-on="2026-11-25"]')!;
    expect(cell.querySelectorAll('.entry')).toHaveLength(2);
    expect(said(part.button('2 more'))).toBe('2 more');
    press(cell.querySelector('.entry')!, { key: 'ArrowDown', altKey: true });
    await part.pass(450);
    expect(part.asked(`/api/appointments/${id(1)}`).request.body).toMatchObject({
      startsAt: '2026-12-02T11:00:00.000Z',
      minutes: 30,
    });
  });

  test('what a month has no room for is a press away, on its day', async () => {
    const days = Array.from({ length: 7 }, (_, n) => aDay(`2026-11-${23 + n}`));
    const entries = [1, 2, 3, 4].map((n) => anEntry({ id: id(n) }));
    const part = await show({ view: 'month' }, { days, entries });
    await part.click(part.button('2 more'));
    await part.pass(0);
    expect([address().get('view'), address().get('on')]).toEqual(['day', '2026-11-25']);
  });

  test('the list leaves days without anything out, and says so when there is nothing', async () => {
    const part = await show({ view: 'agenda' }, { days: week, entries: [anEntry()] });
    expect(said(part.root)).toContain('tomorrow · Wed 25 Nov 10:00–11:00Maud EllerySurvey · Mill Lane');
    expect(part.root.querySelectorAll('section')).toHaveLength(1);
  });

  test('the keys step, come back to today, and plan', async () => {
    const part = await show({ on: '2026-11-30' }, { days: week, entries: [] });
    press(document.body, { key: 'ArrowRight' });
    await part.pass(0);
    expect(address().get('on')).toBe('2026-12-07');
    press(document.body, { key: '.' });
    await part.pass(0);
    expect(address().get('on')).toBeNull();
    const plan = jest.spyOn(TestBed.inject(AppointmentActs), 'plan').mockResolvedValue();
    press(document.body, { key: 'a' });
    await part.settle();
    expect(plan.mock.lastCall![0]).toEqual({ on: '2026-11-30', startMinute: 600 });
  });
});

describe('planning one', () => {
  const show = (data: AppointmentAsked) => showPart(AppointmentDialog, { data });

  test('says what is in its way while it is written, and goes once, as it was typed', async () => {
    const part = await show({ on: '2026-11-25', startMinute: 600 });
    await part.pass(300);
    const asked = part.asked('/api/appointments/warnings');
    expect(asked.request.body).toMatchObject({ startsAt: at('10:00', 25), ownerId: 'me', contactIds: [] });
    asked.flush({ warnings: [{ kind: 'overlap', words: 'At 10:00–11:00 you have Training.' }] });
    await part.settle();
    expect(said(part.root.querySelector('.warnings')!)).toBe('At 10:00–11:00 you have Training.');
    await part.click(part.button('Plan'));
    expect(said(part.root)).toContain('is missing');
    part.server.expectNone('/api/appointments');
    await part.type(part.field('Title'), 'Survey');
    await part.type(part.field('From'), '2pm');
    await part.type(part.field('Length'), '30');
    await part.type(part.field('Place'), 'Mill Lane');
    await part.type(part.field('Way there'), '15');
    expect(said(part.root)).toContain('until 14:30');
    await part.click(part.button('Plan'));
    await part.click(part.button('Plan'));
    const { request } = await part.answer('/api/appointments', anAppointment({ startsAt: at('14:00', 25) }));
    expect(request.body).toEqual({
      ...{
        title: 'Survey',
        startsAt: at('14:00', 25),
        minutes: 30,
        place: 'Mill Lane',
        note: null,
        channel: null,
      },
      ...{
        travelMinutes: 15,
        travelAfterMinutes: 0,
        contactId: null,
        dealId: null,
        guestIds: [],
        colleagueIds: [],
      },
      ...{ ownerId: 'me', remindMinutes: null, invites: false },
    });
    expect(part.closedWith).toEqual([
      { changeId: request.headers.get('X-Change-Id'), words: 'Planned: Survey, Wed 25 Nov 14:00.' },
    ]);
  });

  test('with a person it asks how, and offers their company’s address', async () => {
    const part = await show({ contactId: id(7), channel: 'visit' });
    await part.answerAll(`/api/contacts/${id(7)}`, { id: id(7), companyId: id(9), companyName: 'Pell Spa' });
    await part.answer(`/api/companies/${id(9)}`, {
      company: { sites: [{ street: 'Mill Lane 3', postcode: 'MD4 2AB', city: 'Dunmere' }] },
    });
    expect(said(part.root)).toContain('Mill Lane 3, MD4 2AB, Dunmere');
    await part.click(part.button('Use their address'));
    expect(part.field('Place').value).toBe('Mill Lane 3, MD4 2AB, Dunmere');
    expect(said(part.field('How'))).toBe('Visit');
  });

  test('says who answered what, and takes the time they would like instead into the form', async () => {
    const invited = { contactId: id(7), name: 'Maud Ellery', email: 'maud@penrow.example' };
    const counter = { startsAt: at('13:00', 27), endsAt: at('13:30', 27) };
    const invitations = [{ ...invited, answer: 'tentative', counter, words: 'Friday is better' }];
    const part = await show({
      appointment: anAppointment({ contactId: id(7), taskId: id(8), invites: true, invitations }),
    });
    expect(said(part.root)).toContain('may comeFriday is better');
    await part.click(part.button('Take Fri 27 Nov 13:00'));
    expect([part.field('Day').value, part.field('From').value, part.field('Length').value]).toEqual([
      'Fri 27 Nov 2026',
      '13:00',
      '30',
    ]);
    await part.click(part.button('Save'));
    expect(part.asked(`/api/appointments/${id(1)}`).request.body).toMatchObject({
      ...{ version: 3, startsAt: at('13:00', 27), minutes: 30, invites: true },
    });
  });

  test('finds times that suit everybody, with the clock of those elsewhere, and takes one', async () => {
    const part = await show({ on: '2026-11-25', startMinute: 600, minutes: 60 });
    await part.click(part.button('Find a time that suits everybody'));
    const asked = part.asked('/api/appointments/free-times');
    expect(asked.request.body).toMatchObject({ from: '2026-11-25', minutes: 60, ownerId: 'me' });
    asked.flush({ times: [{ startsAt: at('14:00', 26), elsewhere: ['09:00 for Ray'] }] });
    await part.settle();
    await part.click(part.button('Thu 26 Nov 14:00, 09:00 for Ray'));
    expect([part.field('Day').value, part.field('From').value]).toEqual(['Thu 26 Nov 2026', '14:00']);
  });

  test('lets a customer with an address choose among the first three, by mail', async () => {
    const part = await show({ contactId: id(7), on: '2026-11-25', startMinute: 600, minutes: 60 });
    const contact = { id: id(7), name: 'Maud Ellery', email: 'maud@penrow.example', companyId: null };
    await part.answerAll(`/api/contacts/${id(7)}`, contact);
    await part.click(part.button('Find a time that suits everybody'));
    const times = [14, 15, 16, 17].map((hour) => ({ startsAt: at(`${hour}:00`, 26), elsewhere: [] }));
    await part.answer('/api/appointments/free-times', { times });
    const offer = part.button('Let Maud Ellery choose among the first three, by mail');
    // Without a title nobody knows what it is about.
    await part.click(offer);
    part.server.expectNone('/api/appointments/offers');
    await part.type(part.field('Title'), 'Survey');
    await part.click(offer);
    const asked = part.asked('/api/appointments/offers');
    expect(asked.request.body).toEqual({
      ...{ title: 'Survey', channel: 'meeting', minutes: 60, place: null, contactId: id(7), dealId: null },
      times: times.slice(0, 3).map(({ startsAt }) => startsAt),
    });
    asked.flush({ ok: true });
    await part.pass(10);
    expect(said(document.body)).toContain('Maud Ellery is asked which of the three suits.');
    expect(part.closedWith).toEqual([undefined]);
  });

  test('one that is over asks whether it took place', async () => {
    const over = anAppointment({ startsAt: at('08:00'), endsAt: at('09:00'), taskId: id(8) });
    const part = await show({ appointment: over });
    await part.click(part.button('Log it'));
    expect(part.closedWith).toEqual(['log']);
  });

  test('a colleague’s is shown and not changed', async () => {
    const part = await show({ appointment: anAppointment({ ownerId: 'u2', ownerName: 'Owen Marsh' }) });
    expect(said(part.root)).toContain('It belongs to Owen Marsh.');
    expect(part.field('Title').disabled).toBe(true);
    expect(part.button('Save').getAttribute('aria-disabled')).toBe('true');
    expect(() => part.button(/Call off/)).toThrow('no button');
  });
});

describe('calling off', () => {
  const show = (part: object = {}) => showPart(CallOffDialog, { data: anAppointment(part) });

  test('with another time in the same act', async () => {
    const part = await show({ taskId: id(8) });
    await part.type(part.field('Why'), 'he is ill');
    await part.type(part.field('From'), '11');
    await part.click(part.button('Call off'));
    const { request } = await part.answer(`/api/appointments/${id(1)}/call-off`, anAppointment());
    expect(request.body).toEqual({
      ...{ version: 3, reason: 'he is ill' },
      instead: { kind: 'moved', startsAt: '2026-12-01T11:00:00.000Z', minutes: 60 },
    });
    expect(part.closedWith).toEqual([request.headers.get('X-Change-Id')]);
  });

  test('with a call that finds another time, or nothing; a refusal stays at its field', async () => {
    const part = await show({ taskId: id(8) });
    await part.choose('Instead', 'nothing');
    await part.click(part.button('Call off'));
    await part.refuse(`/api/appointments/${id(1)}/call-off`, {
      ...{ status: 422, code: 'reason-needed', detail: 'Say why.' },
      fields: [{ path: 'reason', message: 'says why nothing comes instead' }],
    });
    expect(said(part.root)).toContain('says why nothing comes instead');
    await part.choose('Instead', 'a call to find another time');
    await part.click(part.button('Call off'));
    const { request } = await part.answer(`/api/appointments/${id(1)}/call-off`, anAppointment());
    expect((request.body as { instead: object }).instead).toEqual({
      ...{ kind: 'task', channel: 'call', dueOn: '2026-12-01', minutes: 6 },
      purpose: 'find another time: Survey',
    });
  });

  test('time of one’s own is simply given back', async () => {
    const part = await show();
    expect(await part.choicesOf('Instead')).toEqual(['another time', 'nothing']);
    await part.click(part.button('Call off'));
    const { request } = await part.answer(`/api/appointments/${id(1)}/call-off`, anAppointment());
    expect(request.body).toMatchObject({ reason: '', instead: { kind: 'none' } });
  });
});
