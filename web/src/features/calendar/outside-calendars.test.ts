import { showPart } from '../../../testing/part';
import { OutsideCalendarsPart } from './outside-calendars';

const id = (n: number) => `00000000-0000-7000-8000-00000000000${n}`;
const said = (root: Element) => root.textContent.replace(/\s+/g, ' ').trim();
const at = (hour: number) => `2026-12-08T${hour}:00:00.000Z`;
const aCalendar = (part: object = {}) => ({
  ...{
    id: id(1),
    name: 'Home',
    kind: 'address',
    address: 'https://home.example/me.ics',
    login: null,
    isBusy: true,
  },
  ...{ readAt: '2026-11-24T09:00:00.000Z', failingSince: null, failure: null, events: 3, isCut: false },
  ...{ questions: [], version: 1, ...part },
});
const side = (hour: number) => ({ startsAt: at(hour), endsAt: at(hour + 1), title: 'Survey', place: null });
const url = '/api/outside-calendars';

async function show(...calendars: object[]) {
  const part = await showPart(OutsideCalendarsPart);
  await part.answer(url, { calendars });
  return part;
}

test('one that is read at its address is added, and what is wrong with it stands at the address', async () => {
  const part = await show();
  expect(said(part.root)).toContain('None yet.');
  await part.type(part.field('What to call it'), 'Home');
  await part.type(part.field('Its address'), 'http://10.0.0.1/x');
  await part.click(part.button('Add the calendar'));
  const fields = [{ path: 'address', message: 'This address lies inside.' }];
  await part.refuse(url, { status: 400, code: 'invalid-request', detail: 'Not so.', fields });
  expect(said(part.root)).toContain('This address lies inside.');
  expect(part.field('What to call it').value).toBe('Home');
  await part.type(part.field('Its address'), 'webcal://home.example/me.ics');
  await part.click(part.button('Add the calendar'));
  const { request } = await part.answer(url, aCalendar());
  expect(request.body).toEqual({
    kind: 'address',
    name: 'Home',
    address: 'webcal://home.example/me.ics',
    isBusy: true,
  });
  await part.answer(url, { calendars: [aCalendar()] });
  expect(said(part.root)).toContain('3 events');
  expect(part.field('What to call it').value).toBe('');
});

test('of a server that has several one is chosen before it is kept in step', async () => {
  const part = await show();
  part.shown['form'].controls.kind.setValue('both-ways');
  await part.settle();
  await part.type(part.field('What to call it'), 'Work');
  await part.type(part.field('Its address'), 'https://cal.example/');
  await part.type(part.field('Your name there'), 'imogen');
  await part.type(part.field('Your password there'), 'radishes');
  await part.click(part.button('Add the calendar'));
  const several = [
    { address: 'https://cal.example/imogen/one/', name: 'One' },
    { address: 'https://cal.example/imogen/two/', name: 'Two' },
  ];
  const asked = await part.answer(`${url}/find`, { calendars: several });
  expect(asked.request.body).toEqual({
    address: 'https://cal.example/',
    login: 'imogen',
    password: 'radishes',
  });
  part.shown['form'].controls.chosen.setValue('https://cal.example/imogen/two/');
  await part.click(part.button('Add the calendar'));
  const { request } = await part.answer(url, aCalendar({ kind: 'both-ways' }));
  expect(request.body).toMatchObject({
    kind: 'both-ways',
    address: 'https://cal.example/imogen/two/',
    login: 'imogen',
  });
});

test('a failure is said with the time since; reading it now says what came of it', async () => {
  const failing = { failure: 'Nothing answers at home.example.', failingSince: '2026-11-24T08:00:00.000Z' };
  const part = await show(aCalendar(failing));
  expect(said(part.root)).toContain('Nothing answers at home.example. Not read since today 08:00.');
  await part.click(part.button('Read Home now'));
  await part.answer(`${url}/${id(1)}/read`, aCalendar());
  await part.answer(url, { calendars: [aCalendar()] });
  expect(said(part.root)).not.toContain('Nothing answers');
});

test.each([
  ['Ours counts', side(11), 'ours'],
  ['Theirs counts', side(11), 'theirs'],
  ['Put it back there', null, 'ours'],
  ['Call it off here', null, 'theirs'],
])('where both sides differ it is asked: %s', async (words, theirs, keep) => {
  const part = await show(aCalendar({ questions: [{ appointmentId: id(5), ours: side(15), theirs }] }));
  expect(said(part.root)).toContain(
    theirs ? 'Here Tue 8 Dec 15:00–16:00.There Tue 8 Dec 11:00–12:00.' : 'was deleted there.',
  );
  await part.click(part.button(words));
  const { request } = await part.answer(`${url}/${id(1)}/settle`, aCalendar());
  expect(request.body).toEqual({ appointmentId: id(5), keep });
});

test('it takes no time, or is removed, with a way back', async () => {
  const part = await show(aCalendar());
  await part.click(part.root.querySelector<HTMLElement>('mat-checkbox input')!);
  const changed = await part.answer(`${url}/${id(1)}`, aCalendar({ isBusy: false }));
  expect(changed.request.body).toEqual({ name: 'Home', isBusy: false });
  await part.answerAll(url, { calendars: [aCalendar({ isBusy: false })] });
  await part.click(part.button('Remove Home'));
  const removed = await part.answer(`${url}/${id(1)}`, { ok: true });
  expect(removed.request.method).toBe('DELETE');
  await part.answerAll(url, { calendars: [] });
  expect(document.body.textContent).toContain('Home is no longer in your calendar.');
});
