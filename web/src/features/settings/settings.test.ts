import { showPart } from '../../../testing/part';
import { BackgroundSettings } from './background-settings';
import { CustomFieldSettings } from './custom-field-settings';
import { JournalSettingsPart } from './journal-settings';
import { StandingSettings } from './standing-settings';

const standing = (id: string, name: string, isDefault = false) => ({
  standing: { id, name, group: 'prospect', checkInDays: 7, position: 0, isDefault },
  due: 0,
  all: 3,
});

test('standings keep their order as it was set; one that goes asks for a home', async () => {
  const part = await showPart(StandingSettings, { role: 'admin' });
  await part.answer('/api/standings', {
    standings: [standing('a', 'New', true), standing('b', 'Warm'), standing('c', 'Old')],
  });
  await part.click(part.button('Move Warm up'));
  await part.click(
    [...part.root.querySelectorAll<HTMLButtonElement>('button')].filter(
      (each) => each.textContent.trim() === 'remove',
    )[2]!,
  );
  expect(part.root.textContent).toContain('Whoever is “Old” becomes');
  await part.click(part.button('Save the standings'));
  const { body } = part.asked('/api/standings').request;
  expect(body.standings.map((each: { name: string }) => each.name)).toEqual(['Warm', 'New']);
  expect(body.homes).toEqual([{ from: 'c', to: 'b' }]);
});

test('where another admin changed the same of a standing, whose holds is chosen', async () => {
  const part = await showPart(StandingSettings, { role: 'admin' });
  const [first, second] = [standing('a', 'New', true), standing('b', 'Warm')];
  await part.answer('/api/standings', { standings: [first, second] });
  await part.type(part.field('Check-in'), '20');
  await part.click(part.button('Save the standings'));
  await part.refuse('/api/standings', {
    status: 409,
    code: 'stale',
    detail: 'Somebody changed this.',
    fields: [
      { path: 'standings.a.checkInDays', message: 'was changed by Petra meanwhile' },
      { path: 'usual', message: 'was changed by Petra meanwhile' },
    ],
    current: {
      version: 99,
      standings: [
        { ...first.standing, checkInDays: 9, isDefault: false },
        { ...second.standing, isDefault: true },
      ],
    },
  });
  const told = [...part.root.querySelectorAll('.conflict')].map((each) =>
    each.textContent.replace(/\s+/g, ' '),
  );
  expect(told[0]).toMatch(/New: check-in, days was changed by Petra.*Mine: 20.*Theirs: 9/);
  expect(told[1]).toMatch(/For new contacts.*Mine: New.*Theirs: Warm/);
  const radios = [...part.root.querySelectorAll<HTMLInputElement>('.conflict input')];
  await part.click(radios[0]!);
  await part.click(radios[3]!);
  await part.click(part.button('Save the standings'));
  const { seen, resolved } = part.asked('/api/standings').request.body as Record<string, unknown>;
  expect(seen).toMatchObject([{ id: 'a', checkInDays: 7 }, { id: 'b' }]);
  expect(resolved).toEqual({ version: 99, mine: ['standings.a.checkInDays'], theirs: ['usual'] });
});

test('a field of choices is sent with them; a name that is taken is told', async () => {
  const part = await showPart(CustomFieldSettings, { role: 'admin' });
  await part.answer('/api/custom-fields', { fields: [] });
  await part.type(part.field('Name'), 'Fuel');
  await part.choose('Holds', 'a choice');
  await part.type(part.field(/Choices/), 'Gas, Oil');
  await part.click(part.button('Add the field'));
  const sent = part.asked('/api/custom-fields');
  expect(sent.request.body).toEqual({
    name: 'Fuel',
    subject: 'contact',
    type: 'choice',
    choices: ['Gas', 'Oil'],
  });
  sent.flush(
    { code: 'already-exists', detail: 'Fuel is in use already.' },
    { status: 409, statusText: 'no' },
  );
  await part.settle();
  expect(part.root.textContent).toContain('Fuel is in use already.');
});

test('a rule of touches may name outcomes, for a group or one standing', async () => {
  const part = await showPart(JournalSettingsPart, { role: 'admin' });
  await part.answer('/api/standings', { standings: [standing('a', 'New', true)] });
  const outcome = {
    id: 'call-voicemail',
    kind: 'call',
    direction: 'out',
    label: 'Left a message',
    counts: 'attempt',
    endsRun: false,
    rule: 'retry',
    standingId: null,
  };
  await part.answer('/api/journal-settings', {
    version: 2,
    outcomes: [outcome],
    touchPolicy: { groups: { prospect: 'all', customer: 'none', former: 'none' }, standings: {} },
    checklists: {},
    standingBySource: [],
  });
  await part.choose('Tries that count for New', 'some tries');
  await part.click(part.root.querySelector<HTMLInputElement>('.touch mat-checkbox input')!);
  await part.click(part.button('Save'));
  expect(part.asked('/api/journal-settings').request.body).toMatchObject({
    version: 2,
    touchPolicy: { standings: { a: ['call-voicemail'] }, groups: { prospect: 'all' } },
  });
});

test('background work that failed is listed with who asked for it, and tried again', async () => {
  const part = await showPart(BackgroundSettings, { role: 'admin' });
  const failed = {
    id: 'a',
    words: 'one part of an import',
    state: 'failed',
    askedByName: 'Imogen Thorne',
    at: '2026-11-24T09:10:00.000Z',
    tries: 5,
    error: 'the import is gone',
  };
  const unclear = {
    ...failed,
    id: 'b',
    words: 'sending a mail',
    state: 'unclear',
    askedByName: null,
    tries: 1,
  };
  await part.answer('/api/failed-jobs', { jobs: [failed, unclear], total: 2 });
  expect(part.root.textContent).toMatch(/one part of an import\s+for Imogen Thorne.*5 tries/s);
  expect(part.root.textContent).toMatch(/sending a mail.*1 try\s.*nobody can know/s);
  await part.click(part.button('Try again'));
  part.asked('/api/failed-jobs/a/retry').flush({ ok: true });
  await part.answer('/api/failed-jobs', { jobs: [], total: 0 });
  expect(part.root.textContent).toContain('Nothing has failed.');
});
