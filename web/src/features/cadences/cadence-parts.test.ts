import type { CadenceResults, CadenceStep, RunRow } from '@kettle/contract';
import { plainStep } from '@kettle/core/cadences';
import { isUnavailable, showPart } from '../../../testing/part';
import { CadencePage } from './cadence-page';
import { CadencesPage } from './cadences-page';
import { LoadBars } from './load-bars';
import { MoveRunsDialog } from './move-runs-dialog';
import { ResultsPanel } from './results-panel';
import { RunTable } from './run-table';
import { StartDialog } from './start-dialog';
import { Stave } from './stave';
import { StepEditor } from './step-editor';

const stepOf = (part: Partial<CadenceStep> = {}): CadenceStep => ({
  ...plainStep,
  channel: 'call',
  offsetDays: 0,
  windowStart: 570,
  windowEnd: 1020,
  minutes: 6,
  purpose: 'ask',
  ...part,
});
const steps = [
  stepOf(),
  stepOf({ channel: 'email', offsetDays: 2, mode: 'by-itself', templateIds: ['a' as never] }),
];
const said = (root: HTMLElement) => root.textContent.replace(/\s+/g, ' ');

describe('the stave', () => {
  const show = async (part: object = {}) => {
    const shown = await showPart(Stave, { inputs: { steps, isEditable: true, ...part } });
    const heard: unknown[] = [];
    for (const name of ['choose', 'move', 'add', 'copied', 'remove'] as const)
      shown.shown[name].subscribe((value: unknown) => heard.push([name, value]));
    return { ...shown, heard };
  };
  const press = (root: HTMLElement, n: number, key: string) =>
    [...root.querySelectorAll('.note')]
      .at(n)!
      .dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));

  test('names each step by channel, day and who does it', async () => {
    const { root } = await show();
    expect([...root.querySelectorAll('.note')].map((note) => note.getAttribute('aria-label'))).toEqual([
      'step 1: call on working day 0, by hand',
      'step 2: e-mail on working day 2, goes by itself',
    ]);
  });

  test.each([
    ['ArrowRight', ['move', { index: 1, to: { day: 3, channel: 'email' } }]],
    ['ArrowLeft', ['move', { index: 1, to: { day: 1, channel: 'email' } }]],
    ['ArrowUp', ['move', { index: 1, to: { day: 2, channel: 'call' } }]],
    ['ArrowDown', ['move', { index: 1, to: { day: 2, channel: 'text' } }]],
    ['c', ['copied', 1]],
    ['Delete', ['remove', 1]],
  ])('%s on a step', async (key, expected) => {
    const { root, heard } = await show();
    press(root, 1, key);
    expect(heard).toEqual([expected]);
  });

  test('a click on a line sets a step there', async () => {
    const { root, heard } = await show();
    const lines = root.querySelectorAll('.room');
    lines[2]!.dispatchEvent(new MouseEvent('click', { clientX: 78 + 43 * 4, bubbles: true }));
    expect(heard).toEqual([['add', { day: 4, channel: 'text' }]]);
  });

  test('real dates stand below, those that were shifted apart', async () => {
    const moment = (step: number, on: string, shifts: string[]) => ({
      kind: 'planned',
      step,
      channel: 'call',
      on,
      at: `${on}T10:00:00.000Z`,
      minutes: 6,
      shifts,
    });
    const { root } = await show({
      today: '2026-11-24',
      moments: [moment(0, '2026-11-24', []), moment(1, '2026-12-02', ['not Tue 1 Dec: a holiday'])],
    });
    const dates = [...root.querySelectorAll('.date')];
    expect(dates.map((date) => date.textContent.trim())).toEqual(['today', 'Wed 2 Dec']);
    expect(dates.map((date) => date.classList.contains('shifted'))).toEqual([false, true]);
  });

  test('to look at only, it has no lines without a step and nothing to press', async () => {
    const { root } = await showPart(Stave, { inputs: { steps } });
    expect(root.querySelectorAll('.channel')).toHaveLength(2);
    expect(root.querySelector('[tabindex]')).toBeNull();
  });
});

describe('one step', () => {
  const template = (id: string, name: string, channel = 'email') => ({ id, name, channel, isRetired: false });
  const show = async (step: CadenceStep, part: object = {}) => {
    const shown = await showPart(StepEditor, {
      inputs: {
        step,
        index: 0,
        templates: [template('a', 'Hello'), template('b', 'Other'), template('c', 'Short', 'text')],
        ...part,
      },
    });
    const heard: unknown[] = [];
    shown.shown.changed.subscribe((value: unknown) => heard.push(value));
    return { ...shown, heard };
  };

  test('goes by itself only with a template', async () => {
    const part = await show(stepOf({ channel: 'email' }));
    expect(await part.choicesOf('Carried out')).toEqual(['by hand', 'by itself (needs a template)']);
    await part.choose('Carried out', /^by itself/);
    expect(part.heard).toEqual([]);
  });

  test('taking the last template out makes it one by hand again', async () => {
    const part = await show(stepOf({ channel: 'email', mode: 'by-itself', templateIds: ['a' as never] }));
    await part.click(part.button('Take out Hello'));
    expect(part.heard).toEqual([{ templateIds: [], mode: 'by-hand' }]);
  });

  test('a second template is a variant to compare; only those of its channel are offered', async () => {
    const part = await show(stepOf({ channel: 'email', templateIds: ['a' as never] }));
    expect(await part.choicesOf('Add a template')).toEqual(['one more to compare', 'Other']);
    await part.choose('Add a template', 'Other');
    expect(part.heard).toEqual([{ templateIds: ['a', 'b'] }]);
  });

  test('says why a day is another one, and what is wrong with it', async () => {
    const { root } = await show(stepOf(), {
      moment: { kind: 'planned', step: 0, on: '2026-12-02', shifts: ['not Tue 1 Dec: a holiday'] },
      problem: {
        of: (path: string) =>
          path === 'definition.steps.0.windowEnd' ? 'the window must end after it starts' : null,
      },
    });
    expect(said(root)).toContain('not Tue 1 Dec: a holiday');
    expect(root.querySelector('[role=alert]')!.textContent).toContain('must end after it starts');
  });
});

describe('results', () => {
  const share = (part: number, whole: number) => ({
    part,
    whole,
    rate: whole ? part / whole : 0,
    low: 0.05,
    high: 0.3,
  });
  const arm = (answered: number, acted: number) => ({
    reached: acted,
    acted: share(acted, acted),
    answered: share(answered, acted),
  });
  const results = (part: object = {}): CadenceResults =>
    ({
      runs: 212,
      answered: share(40, 212),
      steps: [
        { step: 0, channel: 'call', purpose: 'ask', result: arm(38, 212), variants: [], verdict: null },
        { step: 1, channel: 'visit', purpose: 'come by', result: arm(2, 11), variants: [], verdict: null },
      ],
      channels: [],
      silence: [],
      medianDays: 9,
      exits: [{ reason: 'They replied', step: 1, runs: 12 }],
      tries: [share(38, 212)],
      hours: [
        { channel: 'call', weekday: 2, hour: 10, tried: 40, answered: 12, rate: 0.28 },
        { channel: 'call', weekday: 5, hour: 16, tried: 2, answered: 2, rate: 0.9 },
      ],
      leastCases: 30,
      ...part,
    }) as never;

  test('give rates with intervals, and say of thin ones how many are missing', async () => {
    const { root } = await showPart(ResultsPanel, { inputs: { results: results() } });
    expect(said(root)).toContain(
      '212 runs on this version · bars are 95 % intervals · half of the answers by day 9',
    );
    expect(said(root)).toContain('18 %');
    expect(said(root)).toContain('19 more before a verdict');
    expect(root.querySelector('[role=img]')!.getAttribute('aria-label')).toBe(
      '38 of 212, between 5 % and 30 %',
    );
  });

  test('an hour that was hardly tried is not named', async () => {
    const { root } = await showPart(ResultsPanel, { inputs: { results: results() } });
    expect(said(root)).toContain('call Tue 10:00');
    expect(said(root)).not.toContain('call Fri 16:00');
  });

  test.each([
    [{ kind: 'thin', more: 12 }, '“One” against “Two”: 12 more cases before a verdict.'],
    [
      { kind: 'clear', better: 'second', low: -0.23, high: -0.04, p: 0.01 },
      '“Two” earns more answers, by 4 to 23 points (p = 0.01).',
    ],
    [
      { kind: 'open', low: -0.01, high: 0.23, p: 0.1, more: 60 },
      'between -1 and +23 points, p = 0.10. Keep both. About 60 more would settle it.',
    ],
    [{ kind: 'open', low: -0.1, high: 0.1, p: 1, more: 20_000 }, 'would take more than 2000 cases to show'],
  ])('two variants: %j', async (verdict, words) => {
    const variant = (name: string) => ({ templateId: name, name, result: arm(6, 60) });
    const step = {
      step: 0,
      channel: 'email',
      purpose: 'ask',
      result: arm(12, 120),
      variants: [variant('One'), variant('Two')],
      verdict,
    };
    const { root } = await showPart(ResultsPanel, { inputs: { results: results({ steps: [step] }) } });
    expect(said(root)).toContain(words);
  });

  test('nobody yet', async () => {
    const { root } = await showPart(ResultsPanel, { inputs: { results: results({ runs: 0 }) } });
    expect(said(root)).toContain('Nobody has been on this version yet');
  });
});

test('the load shows each day without and with them, under what it leaves free', async () => {
  const load = [0, 1, 2].map((n) => ({
    on: `2026-11-2${4 + n}`,
    minutes: 60,
    withThem: 60 + n,
    capacity: 105,
  }));
  const { root } = await showPart(LoadBars, { inputs: { load } });
  expect(root.querySelector('svg')!.getAttribute('aria-label')).toBe(
    'Load of the next four weeks: at most 62 minutes a day of 105',
  );
  expect([...root.querySelectorAll('.added')].map((bar) => Number(bar.getAttribute('height')) > 0)).toEqual([
    false,
    true,
    true,
  ]);
});

describe('the table of runs', () => {
  const row = (id: string, part: Partial<RunRow> = {}) => ({
    id,
    contactId: `c-${id}`,
    contactName: `Person ${id}`,
    companyName: 'Firm',
    status: 'running',
    step: 2,
    steps: 6,
    nextOn: '2026-11-26',
    pausedUntil: null,
    exitReason: null,
    versionNumber: 1,
    lastSign: null,
    ownerName: 'Imogen Thorne',
    channel: 'call',
    version: 3,
    ...part,
  });
  const show = async (rows: object[], hidden = 0) => {
    const part = await showPart(RunTable, { inputs: { cadenceId: 'x' } });
    await part.answer('/api/cadences/x/runs', { rows, atStep: [0, 2, 0], hidden });
    return part;
  };

  test('asks for mine that have not ended, and says what is hidden', async () => {
    const part = await showPart(RunTable, { inputs: { cadenceId: 'x' } });
    const asked = part.asked('/api/cadences/x/runs');
    expect(asked.request.params.get('owner')).toBe('mine');
    expect(asked.request.params.get('status')).toBe('active');
    asked.flush({ rows: [row('1')], atStep: [0, 1], hidden: 7 });
    await part.settle();
    expect(said(part.root)).toContain('1 shown · hidden: 7');
    expect(said(part.root)).toContain('2of 6');
    await part.click(part.button('show all'));
    expect(part.asked('/api/cadences/x/runs').request.params.get('status')).toBe('all');
  });

  test('acts on those chosen, and keeps those that were refused with the reason', async () => {
    const part = await show([row('1'), row('2')]);
    await part.click(part.root.querySelector<HTMLInputElement>('[aria-label="Choose all"]')!);
    await part.click(part.button('Pause'));
    const asked = part.asked('/api/runs/change');
    expect(asked.request.body).toEqual({
      runs: [
        { id: '1', version: 3 },
        { id: '2', version: 3 },
      ],
      change: 'pause',
    });
    asked.flush({ changed: 1, refused: [{ id: '2', name: 'Person 2', words: 'It changed.' }] });
    await part.settle();
    expect(part.root.querySelector('[role=alert]')!.textContent).toContain('Person 2: It changed.');
    expect(said(part.root)).toContain('1 chosen');
  });
});

describe('a cadence as a page', () => {
  const cadence = {
    id: 'x',
    versionId: 'v2',
    number: 2,
    name: 'After the test',
    definition: { steps, answeredStep: null },
    running: 3,
    finished: 0,
    stopped: 0,
    answered: 0,
    isRetired: false,
    version: 5,
  };
  const show = async () => {
    const part = await showPart(CadencePage, { inputs: { id: 'x' } });
    await part.answer('/api/cadences', { cadences: [cadence] });
    await part.answer('/api/templates', { templates: [], snippets: [], facts: [], signature: '' });
    await part.answer('/api/cadences/x/versions', {
      versions: [
        {
          id: 'v2',
          number: 2,
          running: 1,
          definition: cadence.definition,
          savedAt: '2026-11-20T09:00:00.000Z',
        },
        {
          id: 'v1',
          number: 1,
          running: 2,
          definition: cadence.definition,
          savedAt: '2026-11-01T09:00:00.000Z',
        },
      ],
    });
    return part;
  };
  const name = (root: HTMLElement) => root.querySelector<HTMLInputElement>('input[maxlength="80"]')!;

  test('is saved over its version; what somebody else changed too is asked about, field by field', async () => {
    const part = await show();
    expect(isUnavailable(part.button(/Save v3/))).toBe(true);
    await part.type(name(part.root), 'After the water test');
    await part.click(part.button(/Save v3/));
    const asked = part.asked('/api/cadences/x');
    expect(asked.request.body).toMatchObject({ name: 'After the water test', version: 5, isRetired: false });
    const fields = ['name', 'definition.steps.1.minutes'].map((path) => ({
      path,
      message: 'was changed by Corin Vale meanwhile',
    }));
    asked.flush(
      {
        code: 'stale',
        detail: 'Somebody changed this.',
        fields,
        current: { ...cadence, name: 'Theirs', number: 3, version: 6 },
      },
      { status: 409, statusText: 'Conflict' },
    );
    await part.settle();
    expect(said(part.root)).toContain('Somebody saved version 3 while you worked on this.');
    expect(said(part.root)).toContain('Name was changed by Corin Vale meanwhile');
    expect(said(part.root)).toContain('Theirs: Theirs');
    expect(said(part.root)).toContain('Step 2, minutes was changed by Corin Vale meanwhile');
    expect(name(part.root).value).toBe('After the water test');
    const asks = part.root.querySelectorAll('kettle-conflicts fieldset');
    for (const [at, whose] of ['mine', 'theirs'].entries())
      asks[at]!.querySelector<HTMLInputElement>(`mat-radio-button[value=${whose}] input`)!.click();
    await part.settle();
    await part.click(part.button(/Save v/));
    expect(part.asked('/api/cadences/x').request.body).toMatchObject({
      version: 5,
      resolved: { version: 6, mine: ['name'], theirs: ['definition.steps.1.minutes'] },
    });
  });

  test('each change of the stave can be undone', async () => {
    const part = await show();
    const notes = () =>
      [...part.root.querySelectorAll('.note')].map((note) => note.getAttribute('aria-label'));
    const before = notes();
    part.root
      .querySelectorAll('.note')[1]!
      .dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true, cancelable: true }));
    await part.settle();
    expect(notes()[1]).toContain('working day 3');
    await part.click(part.button(/undo/));
    expect(notes()).toEqual(before);
  });

  test('says how many are on an earlier version', async () => {
    const part = await show();
    expect(said(part.root)).toContain('2 people are still on an earlier version');
  });
});

test('retired cadences are hidden, and the list says so', async () => {
  const part = await showPart(CadencesPage);
  const each = (name: string, isRetired: boolean) => ({
    id: name,
    name,
    isRetired,
    number: 1,
    running: 0,
    finished: 0,
    stopped: 0,
    answered: 0,
    definition: { steps, answeredStep: null },
  });
  await part.answer('/api/cadences', { cadences: [each('One', false), each('Old', true)] });
  expect(said(part.root)).toContain('hidden: 1 retired');
  expect(part.root.querySelectorAll('tbody tr')).toHaveLength(1);
  await part.click(part.button('show them'));
  expect(part.root.querySelectorAll('tbody tr')).toHaveLength(2);
});

test('moving people shows first what it would do to each', async () => {
  const to = {
    id: 'x',
    versionId: 'v2',
    number: 2,
    name: 'After the test',
    definition: { steps: steps.slice(0, 1), answeredStep: null },
  };
  const part = await showPart(MoveRunsDialog, { data: { to, mapping: [0, null] } });
  await part.answer('/api/cadences/x/versions', {
    versions: [
      { id: 'v2', number: 2, running: 0, definition: to.definition },
      { id: 'v1', number: 1, running: 2, definition: { steps, answeredStep: null } },
    ],
  });
  const asked = part.asked('/api/cadences/x/move');
  expect(asked.request.body).toEqual({
    fromVersionId: 'v1',
    toVersionId: 'v2',
    mapping: [0, null],
    isDryRun: true,
  });
  asked.flush({ people: [{ runId: 'r', name: 'Maud', from: 1, to: null, nextOn: null }] });
  await part.settle();
  expect(said(part.root)).toContain('1 would move, 1 of them leave');
  await part.click(part.button('Move 1'));
  const moving = part.asked('/api/cadences/x/move');
  expect(moving.request.body).toMatchObject({ isDryRun: false });
  moving.flush({ people: [{ runId: 'r', name: 'Maud', from: 1, to: null, nextOn: null }] });
  await part.settle();
  await part.undoOf(moving);
});

describe('starting', () => {
  const person = (n: number, part: object = {}) => ({
    contactId: `c${n}`,
    name: `Person ${n}`,
    companyName: null,
    zone: 'Europe/London',
    leftOut: null,
    startOn: '2026-11-24',
    moments: [],
    ...part,
  });
  const plan = (people: object[]) => ({ cadenceId: 'x', versionId: 'v', people, load: [] });
  const show = async () => {
    const part = await showPart(StartDialog, { data: { contactIds: ['c1', 'c2', 'c3'] } });
    await part.answer('/api/cadences', {
      cadences: [
        { id: 'old', name: 'Old', isRetired: true, definition: { steps } },
        { id: 'x', name: 'One', isRetired: false, definition: { steps } },
      ],
    });
    return part;
  };

  test('a retired cadence is not offered; who is left out is said with the reason', async () => {
    const part = await show();
    await part.answer(
      '/api/cadences/x/plan',
      plan([person(1), person(2, { leftOut: { reason: 'not-yours', words: 'belongs to a colleague' } })]),
    );
    expect(await part.choicesOf('Cadence')).toHaveLength(1);
    expect(said(part.root)).toContain('left out: belongs to a colleague');
    expect(isUnavailable(part.button('Start 1'))).toBe(false);
  });

  test('a second press while the start is on its way starts nothing more, and is answered once', async () => {
    const part = await show();
    await part.answer('/api/cadences/x/plan', plan([person(1)]));
    await part.click(part.button('Start 1'));
    await part.click(part.button('Start 1'));
    await part.answer('/api/cadences/x/runs', { started: [], leftOut: [] });
    expect(part.closedWith).toHaveLength(1);
    expect(part.root.textContent).not.toContain('Undo');
  });

  test('a start can be undone by the line that says it', async () => {
    const part = await show();
    await part.answer('/api/cadences/x/plan', plan([person(1)]));
    await part.click(part.button('Start 1'));
    const starting = part.asked('/api/cadences/x/runs');
    starting.flush({ started: [{ contactId: 'c1', runId: 'r1', taskId: null }], leftOut: [] });
    await part.settle();
    await part.undoOf(starting);
  });

  test('levelled, everybody starts on their day, and who has no room stays out', async () => {
    const part = await show();
    await part.answer('/api/cadences/x/plan', plan([person(1), person(2), person(3)]));
    await part.click(part.root.querySelector<HTMLInputElement>('input[type=checkbox]')!);
    const asked = part.asked('/api/cadences/x/plan');
    expect(asked.request.body).toMatchObject({ isLevelled: true });
    asked.flush(plan([person(1), person(2, { startOn: '2026-11-30' }), person(3, { startOn: null })]));
    await part.settle();
    expect(said(part.root)).toContain('1 on today, 1 on Monday');
    expect(said(part.root)).toContain('no room in the next four weeks');
    await part.click(part.button('Start 2'));
    expect(part.asked('/api/cadences/x/runs').request.body).toMatchObject({
      contactIds: ['c1', 'c2'],
      startOn: { c1: '2026-11-24', c2: '2026-11-30' },
    });
  });
});
