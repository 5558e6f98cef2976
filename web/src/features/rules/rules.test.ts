import type { Rule } from '@kettle/contract';
import { showPart, type Part } from '../../../testing/part';
import { RulesPart } from './rules-part';

const said = (root: Element) => root.textContent.replace(/\s+/g, ' ').trim();
const task = {
  kind: 'task',
  channel: 'call',
  purpose: 'How did it start?',
  inDays: 14,
  minutes: 6,
  ownerId: null,
};

const boilers = '01938f6c-0000-7000-8000-0000000000f1';
const owen = '01938f6c-0000-7000-8000-000000000002';
const aRule = (part: object = {}): Rule =>
  ({
    ...{ id: 'r1', name: 'Welcome', subject: 'deal', if: null, then: [task], isOn: true, missed: 'catch-up' },
    when: { kind: 'event', event: 'deal.closed', to: ['won'] },
    ...{
      perDay: 200,
      byId: 'u1',
      byName: 'Petra Lund',
      mayChange: true,
      onSince: null,
      fired: 0,
      firedAt: null,
    },
    ...{ notDone: 0, version: 1 },
    ...part,
  }) as Rule;
const anOffer = {
  ...{ key: 'welcome', name: 'Welcome after winning', subject: 'deal', if: null, then: [task], isOn: false },
  ...{ when: { kind: 'event', event: 'deal.closed', to: ['won'] }, missed: 'catch-up', perDay: 200 },
};

const renewalStep = { ruleId: null, ruleName: null };

async function show(rules: readonly Rule[], offers: readonly object[] = []) {
  const part = await showPart(RulesPart, { role: 'admin' });
  const replies = {
    '/api/rules': { rules, offers, renewalStep },
    '/api/pipelines': { pipelines: [{ id: 'p1', name: 'Sales', stages: [{ id: 's1', name: 'Offer' }] }] },
    '/api/standings': { standings: [{ standing: { id: 'st1', name: 'Customer' } }] },
    '/api/custom-fields': {
      fields: [
        {
          ...{ id: boilers, subject: 'deal', name: 'Boilers', type: 'number' },
          choices: [],
          isRetired: false,
          version: 1,
        },
      ],
    },
    '/api/colleagues': { people: [{ id: owen, name: 'Owen Marsh' }] },
    '/api/templates': { templates: [], snippets: [], facts: [] },
    '/api/cadences': { cadences: [] },
    '/api/hooks': { hooks: [] },
    '/api/journal-settings': { outcomes: [] },
  };
  for (const [path, body] of Object.entries(replies)) await part.answerAll(path, body);
  return part;
}
const sentence = (part: Part<RulesPart>) => said(part.root.querySelector('.sentence')!);

test('a rule is read as one sentence, with what it did of late', async () => {
  const part = await show([
    aRule({ fired: 3, firedAt: '2026-11-24T09:00:00.000Z', notDone: 1 }),
    aRule({
      ...{ id: 'r2', name: 'Quiet', subject: 'contact', when: { kind: 'silence', days: 90 } },
      then: [
        { kind: 'standing', standingId: 'st1' },
        { kind: 'notify', to: ['owner', owen], words: 'Look' },
      ],
      mayChange: false,
    }),
  ]);
  const [first, second] = [...part.root.querySelectorAll('li')].map(said);
  expect(first).toContain('When a deal was won: plan for its owner in 14 days (Call): “How did it start?”.');
  expect(first).toContain('3 times in 30 days');
  expect(first).toContain('1 time not carried out');
  expect(second).toContain(
    'When nobody had contact with a person for 90 days: standing Customer; tell its owner, Owen Marsh “Look”.',
  );
  expect(() => part.button('Change Quiet')).toThrow('no button');
});

test('one that ships is begun with, tried, changed, and saved with its undo', async () => {
  const part = await show([], [anOffer]);
  await part.click(part.button('Begin with Welcome after winning'));
  expect(sentence(part)).toContain('When a deal was won: plan for its owner in 14 days');
  await part.click(part.button('What would it have done in the last 90 days?'));
  const tried = part.asked('/api/rules/try');
  expect(tried.request.body).toMatchObject({ subject: 'deal', then: [task], isOn: true });
  tried.flush({
    ...{ count: 2, mostADay: 1, isCut: false },
    records: [
      {
        recordId: 'd1',
        name: 'Hotel Linde',
        path: '/deals/d1',
        on: '2026-11-20',
        because: 'by Imogen Thorne',
      },
    ],
  });
  await part.settle();
  expect(said(part.root)).toContain('2 times');
  expect(said(part.root)).toContain('Hotel Linde');
  await part.choose('Then', 'tell colleagues');
  await part.type(part.field('What they read'), 'Say thank you');
  expect(sentence(part)).toContain('When a deal was won: tell its owner “Say thank you”.');
  await part.click(part.button('Save the rule'));
  const asked = part.asked('/api/rules');
  expect(asked.request.body.then).toEqual([{ kind: 'notify', to: ['owner'], words: 'Say thank you' }]);
  asked.flush(aRule());
  await part.settle();
  await part.answer('/api/rules', { rules: [aRule()], offers: [], renewalStep });
  expect(document.body.textContent).toContain('The rule “Welcome” is saved.');
  (await part.undoOf(asked)).flush({});
  await part.settle();
  await part.answer('/api/rules', { rules: [], offers: [], renewalStep });
});

test('another kind of record asks and does other things', async () => {
  const part = await show([]);
  await part.click(part.button('Write your own'));
  await part.choose('Then', 'move it to a stage');
  await part.choose('Stage', 'Sales: Offer');
  expect(sentence(part)).toContain('move it to Sales: Offer');
  await part.choose('About', 'a person');
  expect(sentence(part)).toContain('When a person was added: plan for its owner');
  await part.choose('When', 'nobody had contact for a while');
  expect(sentence(part)).toContain('When nobody had contact with a person for 30 days');
});

test('several colleagues are told, and a field of one’s own or a date is set', async () => {
  const part = await show([]);
  await part.click(part.button('Write your own'));
  await part.choose('Then', 'tell colleagues');
  await part.choose('Whom', 'Owen Marsh');
  expect(sentence(part)).toContain('tell its owner, Owen Marsh');
  await part.choose('Then', 'set a field');
  await part.choose('Field', 'Boilers');
  await part.type(part.field('To'), '12');
  expect(sentence(part)).toContain('set Boilers to “12”');
  await part.choose('Field', 'decision');
  expect(sentence(part)).toContain('set decision to the day in 7 days');
  await part.choose('About', 'an agreement');
  await part.choose('When', 'the lead day of an agreement came');
  await part.choose('Then', 'begin the renewal');
  expect(sentence(part)).toBe('When the lead day of an agreement came: begin the renewal.');
  expect(said(part.root)).toContain('Renewals begin on the lead day of each agreement.');
});

test('what is refused stands below with where it is, and nothing typed is lost', async () => {
  const part = await show([]);
  await part.click(part.button('Write your own'));
  await part.type(part.field('Name of the rule'), 'Mine');
  await part.click(part.button('Save the rule'));
  await part.refuse('/api/rules', {
    ...{ status: 400, code: 'invalid-request', detail: 'Check the marked fields.' },
    fields: [{ path: 'then.0.purpose', message: 'must not be empty' }],
  });
  expect(said(part.root)).toContain('Then, 1: must not be empty');
  expect(part.field('Name of the rule').value).toBe('Mine');
});

test('it is switched off, and what it did is undone for one record', async () => {
  const part = await show([aRule()]);
  await part.click(part.field('on'));
  const off = part.asked('/api/rules/r1');
  expect(off.request.body).toMatchObject({ isOn: false, version: 1 });
  off.flush(aRule({ isOn: false }));
  await part.settle();
  await part.answer('/api/rules', { rules: [aRule({ isOn: false, version: 2 })], offers: [] });
  expect(document.body.textContent).toContain('“Welcome” is off.');
  await part.click(part.button('What Welcome did'));
  const firing = {
    ...{ id: 'f1', at: '2026-11-24T09:00:00.000Z', recordId: 'd1', name: 'Hotel Linde', path: '/deals/d1' },
    ...{
      because: 'a deal was won',
      state: 'done',
      words: 'task for Imogen',
      changeId: 'c1',
      isUndone: false,
    },
  };
  await part.answer('/api/rules/r1/firings', { firings: [firing], isCut: false });
  expect(said(part.root)).toContain('because a deal was won');
  await part.click(part.button('Undo what it did to Hotel Linde'));
  await part.answer('/api/rules/r1/firings/f1/undo', { ok: true });
  await part.answer('/api/rules/r1/firings', { firings: [{ ...firing, isUndone: true }], isCut: false });
  expect(said(part.root)).toContain('undone');
});
