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
const said = (root: HTMLElement) => root.textContent!.replace(/\s+/g, ' ');

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
    await part.click(part.button('history: 18 days'));
    await part.click(part.button('See what it does'));
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
    await part.click(part.button('Save it so'));
    const { body } = part.asked('/api/pipelines/p').request as {
      body: { version: number; stages: { patienceDays: number }[] };
    };
    expect([body.version, body.stages[1]!.patienceDays]).toEqual([4, 18]);
  });

  test('a stage that goes asks where its deals are to be', async () => {
    const part = await show();
    await part.click(part.button('remove'));
    expect(said(part.root)).toContain('Deals in “Inquiry” go to');
    await part.click(part.button('See what it does'));
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
    await part.type(part.field('What for'), 'survey on site');
    await part.click(part.button('See what it does'));
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
});

test('who gets a new lead is saved as a rule', async () => {
  const part = await showPart(LeadSettingsPart, { role: 'admin' });
  await part.answer('/api/lead-settings', { version: 2, ownerRule: { kind: 'pool' } });
  await part.answer('/api/colleagues', { people: [{ id: 'u1', name: 'Rhys Adair', role: 'rep' }] });
  const radios = [...part.root.querySelectorAll<HTMLInputElement>('input[type=radio]')];
  await part.click(radios[3]!);
  await part.type(part.field(/^Postcodes/), 'MD4, Skell');
  await part.type(part.field('Goes to'), 'u1');
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
  const form = {
    ...{
      id: 'f',
      key: 'k',
      name: 'site',
      title: 'Ask us',
      asksPhone: true,
      asksCompany: true,
      asksPostcode: false,
    },
    ...{
      consentWords: 'yes',
      thanks: 'thanks',
      source: 'web site',
      campaign: null,
      isOpen: true,
      origins: [],
    },
    ...{ leads: 9, trapped: 2, address: 'http://kettle.test/out/forms/k', version: 3 },
  };
  await part.answer('/api/web-forms', { forms: [form] });
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
  await part.answer('/api/close-reasons', { version: 1, won: ['price'], lost: [], parked: [], aside: [] });
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
  });
});
