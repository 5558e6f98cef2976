import { showPart } from '../../../testing/part';
import { LeadSettingsPart } from './lead-settings';
import { PipelineSettings } from './pipeline-settings';
import { ProductSettings } from './product-settings';

const stage = (name: string, part: object = {}) => ({
  id: name,
  pipelineId: 'p',
  name,
  winProbability: 0.25,
  patienceDays: 14,
  position: 0,
  needs: [],
  brief: { prompts: [], tasks: [] },
  ...part,
});
const pipeline = { id: 'p', name: 'Sales', version: 4, stages: [stage('Inquiry'), stage('Offer')] };
const said = (root: HTMLElement) => root.textContent.replace(/\s+/g, ' ');

describe('pipelines', () => {
  const show = async () => {
    const part = await showPart(PipelineSettings, { role: 'admin' });
    await part.answer('/api/pipelines', { pipelines: [pipeline] });
    const found = { stageId: 'Offer', suggestedDays: 18, wentOn: 40, stillThere: 5, meanDays: 11 };
    await part.answer('/api/pipelines/patience', { stages: [found] });
    return part;
  };

  test('what a change does is shown before a second press saves it', async () => {
    const part = await show();
    await part.click(part.button('Suggested: 18 days'));
    await part.click(part.button('Preview changes'));
    const row = {
      stageId: 'Offer',
      name: 'Offer',
      openDeals: 6,
      weightedBeforeMinor: 1000,
      weightedAfterMinor: 2000,
      stalledBefore: 3,
      stalledAfter: 1,
      lacking: 2,
    };
    await part.answer('/api/pipelines/p/check', { stages: [row], going: [] });
    expect(said(part.root)).toContain('£10 → £20');
    expect(said(part.root)).toContain('3 → 1');
    await part.click(part.button('Save changes'));
    const { body } = part.asked('/api/pipelines/p').request as {
      body: { version: number; stages: { patienceDays: number }[] };
    };
    expect([body.version, body.stages[1]!.patienceDays]).toEqual([4, 18]);
  });

  test('a chance that falls along the pipeline is warned of', async () => {
    const part = await showPart(PipelineSettings, { role: 'admin' });
    const stages = [stage('Inquiry', { winProbability: 0.4 }), stage('Offer', { winProbability: 0.2 })];
    await part.answer('/api/pipelines', { pipelines: [{ ...pipeline, stages }] });
    await part.answer('/api/pipelines/patience', { stages: [] });
    expect(said(part.root).split('Lower than the stage before')).toHaveLength(2);
  });

  test('a stage that goes asks where its deals are to be', async () => {
    const part = await show();
    await part.click(part.button('remove'));
    expect(said(part.root)).toContain('Deals in “Inquiry” go to');
    await part.click(part.button('Preview changes'));
    expect(part.asked('/api/pipelines/p/check').request.body).toMatchObject({
      stages: [{ id: 'Offer' }],
      homes: [{ from: 'Inquiry', to: 'Offer' }],
    });
  });

  test('a brief is written in place, and a refusal says why', async () => {
    const part = await show();
    await part.click(part.button('asks 0 · brief 0'));
    await part.click(part.button('add a prompt to tick'));
    await part.type(part.field('Prompt 1'), 'hardness measured');
    await part.click(part.button('add a task to create'));
    await part.type(part.field('Purpose'), 'survey on site');
    await part.click(part.button('Preview changes'));
    const asked = part.asked('/api/pipelines/p/check');
    expect(asked.request.body).toMatchObject({
      stages: [
        {
          brief: {
            prompts: [{ text: 'hardness measured', isRequired: true }],
            tasks: [{ purpose: 'survey on site', afterDays: 1 }],
          },
        },
        {},
      ],
    });
    asked.flush(
      { type: '', title: '', status: 409, detail: 'Somebody changed this.', code: 'stale', requestId: '' },
      { status: 409, statusText: 'refused' },
    );
    await part.settle();
    expect(said(part.root)).toContain('Somebody changed this.');
    expect(part.field('Prompt 1').value).toBe('hardness measured');
  });

  test('what is wrong stands at its stage, each in words', async () => {
    const part = await show();
    await part.type(part.field('Stage'), '');
    await part.click(part.button('Preview changes'));
    const fields = [
      { path: 'stages.0.name', message: 'must not be empty' },
      { path: 'stages.0.patienceDays', message: 'must be at least 1' },
      { path: 'stages.1.brief.tasks.1.purpose', message: 'must not be empty' },
    ];
    const detail = 'Something in what was sent is not right.';
    await part.refuse('/api/pipelines/p/check', { status: 400, code: 'invalid-request', detail, fields });
    const [first, second] = [...part.root.querySelectorAll<HTMLElement>('.stage')].map(said);
    expect(first).toContain('the name must not be empty');
    expect(first).toContain('the patience must be at least 1');
    expect(second).toContain('task 2 must not be empty');
    expect(part.field('Stage').value).toBe('');
  });

  test('the home that is proposed is the stage most like the one that goes', async () => {
    const part = await showPart(PipelineSettings, { role: 'admin' });
    const stages = [
      stage('Inquiry', { winProbability: 0.1 }),
      stage('Offer', { winProbability: 0.5 }),
      stage('Terms', { winProbability: 0.6 }),
    ];
    await part.answer('/api/pipelines', { pipelines: [{ ...pipeline, stages }] });
    await part.click(
      [...part.root.querySelectorAll('button')].filter((each) => said(each) === ' remove ')[2]!,
    );
    await part.click(part.button('Preview changes'));
    expect(part.asked('/api/pipelines/p/check').request.body).toMatchObject({
      homes: [{ from: 'Terms', to: 'Offer' }],
    });
  });

  test('where another admin changed the same field, whose holds is chosen, before what it does is shown', async () => {
    const part = await show();
    await part.type(part.field('Chance'), '70');
    await part.click(part.button('Preview changes'));
    await part.refuse('/api/pipelines/p/check', {
      status: 409,
      code: 'stale',
      detail: 'Somebody changed this while you worked on it.',
      fields: [
        { path: 'stages.Inquiry.winProbability', message: 'was changed by Petra meanwhile' },
        { path: 'stages.Offer', message: 'was changed by Petra meanwhile' },
        { path: 'order', message: 'was changed by Petra meanwhile' },
      ],
      current: { ...pipeline, version: 7, stages: [stage('Inquiry', { winProbability: 0.2 })] },
    });
    const told = [...part.root.querySelectorAll<HTMLElement>('.conflict')].map(said);
    expect(told[0]).toContain('Inquiry: the chance was changed by Petra meanwhile');
    expect(told[0]).toMatch(/Mine: 70 %.*Theirs: 20 %/);
    expect(told[1]).toMatch(/Stage Offer.*Mine: kept as typed.*Theirs: deleted/);
    expect(told[2]).toMatch(/Order of the stages.*Mine: Inquiry, Offer.*Theirs: Inquiry/);
    const radios = [...part.root.querySelectorAll<HTMLInputElement>('input[type=radio]')];
    for (const at of [1, 2, 4]) await part.click(radios[at]!);
    await part.click(part.button('Preview changes'));
    const resolved = {
      version: 7,
      mine: ['stages.Offer', 'order'],
      theirs: ['stages.Inquiry.winProbability'],
    };
    const { request } = await part.answer('/api/pipelines/p/check', { stages: [], going: [] });
    expect(request.body).toMatchObject({ version: 4, resolved });
    await part.click(part.button('Save changes'));
    expect(part.asked('/api/pipelines/p').request.body).toMatchObject({ version: 4, resolved });
  });

  test('deals of a pipeline are mapped stage by stage to another', async () => {
    const part = await showPart(PipelineSettings, { role: 'admin' });
    const other = { id: 'q', name: 'Renewals', version: 1, stages: [stage('Due'), stage('offer')] };
    await part.answer('/api/pipelines', { pipelines: [pipeline, other] });
    await part.choose('Pipeline', 'Renewals');
    expect(said(part.root)).toContain('From Inquiry to');
    await part.click(part.button('Move all open and parked deals'));
    expect(part.asked('/api/pipelines/p/map').request.body).toEqual({
      stages: [
        { from: 'Inquiry', to: 'Due' },
        { from: 'Offer', to: 'offer' },
      ],
    });
  });
});

/** The field of that label in one of several forms. */
const fieldIn = (root: HTMLElement, label: string) =>
  [...root.querySelectorAll('mat-form-field')]
    .find((each) => each.querySelector('mat-label')?.textContent.startsWith(label))!
    .querySelector<HTMLInputElement>('input, textarea')!;

const aForm = (part: object = {}) => ({
  ...{
    id: 'f',
    key: 'k',
    name: 'site',
    title: 'Ask us',
    asksPhone: true,
    asksCompany: true,
    asksPostcode: false,
    confirmsConsent: false,
  },
  ...{ consentWords: 'yes', thanks: 'thanks', source: 'web site', campaign: null, isOpen: true, origins: [] },
  ...{ leads: 9, trapped: 2, address: 'http://kettle.test/out/forms/k', version: 3 },
  ...part,
});

describe('rules and forms', () => {
  const show = async () => {
    const part = await showPart(LeadSettingsPart, { role: 'admin' });
    await part.answer('/api/lead-settings', { version: 2, ownerRule: { kind: 'pool' } });
    await part.answer('/api/web-forms', { forms: [aForm()] });
    return part;
  };
  const formNamed = (root: HTMLElement, name: string) =>
    root.querySelector<HTMLFormElement>(`form[aria-label="${name}"]`)!;
  const submit = (form: HTMLFormElement) => form.dispatchEvent(new Event('submit', { cancelable: true }));

  test('what is wrong in a form stands at its field, and what was typed elsewhere stays', async () => {
    const part = await show();
    const fresh = formNamed(part.root, 'A new form');
    await part.type(fieldIn(fresh, 'Name, for us'), 'fair');
    const stored = formNamed(part.root, 'site');
    await part.type(fieldIn(stored, 'What they consent to'), 'x');
    submit(stored);
    const fields = [
      { path: 'consentWords', message: 'is too short to be consented to' },
      { path: 'origins.1', message: 'must be an origin such as https://www.firm.example' },
    ];
    await part.refuse('/api/web-forms/f', { status: 400, code: 'invalid-request', detail: 'Check.', fields });
    const labels = [...stored.querySelectorAll<HTMLElement>('mat-form-field')].map(said);
    expect(labels.find((label) => label.includes('What they consent to'))).toContain('is too short');
    expect(labels.find((label) => label.includes('Sites it may stand in'))).toContain('must be an origin');
    expect(said(fresh)).not.toContain('is too short');
    await part.type(fieldIn(stored, 'What they consent to'), 'You may write to me.');
    submit(stored);
    await part.answer('/api/web-forms/f', aForm({ consentWords: 'You may write to me.', version: 4 }));
    expect(fieldIn(formNamed(part.root, 'A new form'), 'Name, for us').value).toBe('fair');
    submit(formNamed(part.root, 'site'));
    expect(part.asked('/api/web-forms/f').request.body).toMatchObject({ version: 4 });
  });

  test('a form that another changed asks, for the same field, whose holds', async () => {
    const part = await show();
    submit(formNamed(part.root, 'site'));
    await part.refuse('/api/web-forms/f', {
      status: 409,
      code: 'stale',
      detail: 'Somebody changed this while you worked on it.',
      current: aForm({ version: 9, title: 'Ask us' }),
      fields: [{ path: 'title', message: 'was changed by Owen Gray meanwhile' }],
    });
    expect(said(part.root)).toContain('Title was changed by Owen Gray meanwhile');
    await part.click(part.root.querySelector<HTMLInputElement>('kettle-conflicts input[value=theirs]')!);
    submit(formNamed(part.root, 'site'));
    expect(part.asked('/api/web-forms/f').request.body).toMatchObject({
      version: 3,
      resolved: { version: 9, mine: [], theirs: ['title'] },
    });
  });

  test('a rule that another changed keeps what was chosen here', async () => {
    const part = await show();
    const radios = [...part.root.querySelectorAll<HTMLInputElement>('input[type=radio]')];
    await part.click(radios[1]!);
    await part.click(part.button('Save the rule'));
    await part.refuse('/api/lead-settings', {
      status: 409,
      code: 'stale',
      detail: 'Somebody changed this while you worked on it.',
      current: { version: 6, ownerRule: { kind: 'load', userIds: ['u2'] } },
      fields: [{ path: 'ownerRule', message: 'was changed by Owen Gray meanwhile' }],
    });
    expect(radios[1]!.checked).toBe(true);
    await part.click(part.root.querySelector<HTMLInputElement>('kettle-conflicts input[value=mine]')!);
    await part.click(part.button('Save the rule'));
    expect(part.asked('/api/lead-settings').request.body).toEqual({
      version: 2,
      ownerRule: { kind: 'in-turn', userIds: [] },
      resolved: { version: 6, mine: ['ownerRule'], theirs: [] },
    });
  });
});

test('who gets a new lead is saved as a rule', async () => {
  const part = await showPart(LeadSettingsPart, { role: 'admin' });
  await part.answer('/api/lead-settings', { version: 2, ownerRule: { kind: 'pool' } });
  await part.answer('/api/colleagues', { people: [{ id: 'u1', name: 'Rhys Adair', role: 'rep' }] });
  const radios = [...part.root.querySelectorAll<HTMLInputElement>('input[type=radio]')];
  await part.click(radios[3]!);
  await part.type(part.field(/^Postcodes/), 'MD4, Skell');
  await part.choose('Goes to', 'Rhys Adair');
  await part.click(part.button('Save the rule'));
  expect(part.asked('/api/lead-settings').request.body).toEqual({
    version: 2,
    ownerRule: {
      kind: 'region',
      regions: [{ country: 'GB', places: ['MD4', 'Skell'], userId: 'u1' }],
      otherwise: { kind: 'pool' },
    },
  });
});

test('a form shows what to embed, and is changed over its version', async () => {
  const part = await showPart(LeadSettingsPart, { role: 'admin' });
  await part.answer('/api/web-forms', { forms: [aForm()] });
  expect(said(part.root)).toContain('<iframe src="http://kettle.test/out/forms/k"');
  expect(said(part.root)).toContain('9 leads came by it; 2 sendings fell into the trap');
  await part.type(part.field(/^Sites it may/), 'https://one.example\n\nhttps://two.example');
  await part.click(part.button('Save'));
  expect(part.asked('/api/web-forms/f').request.body).toMatchObject({
    version: 3,
    origins: ['https://one.example', 'https://two.example'],
    campaign: null,
  });
});

test('products and reasons are kept', async () => {
  const part = await showPart(ProductSettings, { role: 'admin' });
  await part.answer('/api/products', { products: [] });
  await part.answer('/api/close-reasons', {
    version: 1,
    won: ['price'],
    lost: [],
    parked: [],
    aside: [],
    wonNeedsReason: true,
  });
  await part.type(part.field('Name'), 'Softener');
  await part.type(part.field('Price'), '3,850');
  await part.click(part.button('Add it'));
  expect(part.asked('/api/products').request.body).toEqual({
    name: 'Softener',
    priceMinor: 385_000,
    billing: 'once',
  });
  await part.type(part.field('What loses them'), 'price\n another supplier \n\n');
  await part.click(part.button('Save the reasons'));
  expect(part.asked('/api/close-reasons').request.body).toEqual({
    version: 1,
    won: ['price'],
    lost: ['price', 'another supplier'],
    parked: [],
    aside: [],
    wonNeedsReason: true,
  });
});

describe('a product', () => {
  const stored = (part: object = {}) => ({
    ...{ id: 's', name: 'Softener', priceMinor: 385_000, billing: 'once', isRetired: false, version: 2 },
    ...part,
  });
  const show = async () => {
    const part = await showPart(ProductSettings, { role: 'admin' });
    await part.answer('/api/products', { products: [stored()] });
    const rows = () => [...part.root.querySelectorAll<HTMLFormElement>('form.inline')];
    const field = (row: number, label: string) => fieldIn(rows()[row]!, label);
    const save = async (row: number) => {
      rows()[row]!.dispatchEvent(new Event('submit', { cancelable: true }));
      await part.settle();
    };
    return { ...part, rows, field, save };
  };

  test('with a price that is no amount is told so at its row, before anything is sent', async () => {
    const part = await show();
    await part.type(part.field(0, 'Price'), 'dear');
    await part.save(0);
    part.server.expectNone('/api/products/s');
    expect(said(part.rows()[0]!)).toContain('must be an amount in GBP such as 4,400');
    expect(said(part.rows()[1]!)).not.toContain('must be an amount');
  });

  test('is saved while another that is being typed stays', async () => {
    const part = await show();
    await part.type(part.field(1, 'Name'), 'Dosing set');
    await part.type(part.field(0, 'Price'), '3,950');
    await part.save(0);
    await part.answer('/api/products/s', stored({ priceMinor: 395_000, version: 3 }));
    expect([part.field(1, 'Name').value, part.field(0, 'Price').value]).toEqual(['Dosing set', '3,950']);
    await part.type(part.field(1, 'Price'), '1,780');
    await part.save(1);
    await part.answer(
      '/api/products',
      stored({ id: 'd', name: 'Dosing set', priceMinor: 178_000, version: 1 }),
    );
    expect(part.rows()).toHaveLength(3);
  });

  test('that another changed asks, for the same field, whose holds', async () => {
    const part = await show();
    await part.save(0);
    await part.refuse('/api/products/s', {
      status: 409,
      code: 'stale',
      detail: 'Somebody changed this while you worked on it.',
      current: stored({ version: 8, priceMinor: 40_000 }),
      fields: [{ path: 'priceMinor', message: 'was changed by Owen Gray meanwhile' }],
    });
    expect(said(part.rows()[0]!)).toContain('Price was changed by Owen Gray meanwhile');
    expect(said(part.rows()[0]!)).toContain('Theirs: £400');
    await part.click(part.root.querySelector<HTMLInputElement>('kettle-conflicts input[value=mine]')!);
    await part.save(0);
    expect(part.asked('/api/products/s').request.body).toMatchObject({
      version: 2,
      resolved: { version: 8, mine: ['priceMinor'], theirs: [] },
    });
  });
});
