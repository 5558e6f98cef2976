import { showPart } from '../../../testing/part';
import { OrganisationSettingsPart } from './organisation-settings';
import { RoadSettingsPart } from './road-settings';
import { RoundSettingsPart } from './round-settings';

const organisation = {
  version: 3,
  name: 'Hollinbeck Water',
  currency: 'GBP',
  homeCountry: 'GB',
  homeZone: 'Europe/London',
  companyDailyLimit: 3,
  rates: [{ currency: 'EUR', from: '2026-11-02', rate: 0.86 }],
  regions: {},
  halfDaysOff: false,
  ownDaysOff: [],
};

describe('the organisation', () => {
  const show = async () => {
    const part = await showPart(OrganisationSettingsPart, { role: 'admin' });
    await part.answer('/api/organisation', organisation);
    return part;
  };

  test('is sent whole, with a rate as it was typed, over the version that was seen', async () => {
    const part = await show();
    await part.click(part.button('Add a rate'));
    const rates = [...part.root.querySelectorAll<HTMLInputElement>('input[aria-label="Rate"]')];
    expect(rates.map(({ value }) => value)).toEqual(['0.86', '']);
    await part.type(rates[1]!, '0,9');
    await part.click(part.button('Save the organisation'));
    expect(part.asked('/api/organisation').request.body).toEqual({
      ...organisation,
      rates: [organisation.rates[0], { currency: 'EUR', from: '2026-11-24', rate: 0.9 }],
    });
  });

  test('what is wrong with a rate is said beside it, and what was typed stays', async () => {
    const part = await show();
    await part.type(part.field('Rate'), '0');
    await part.click(part.button('Save the organisation'));
    const fields = [{ path: 'rates.0.rate', message: 'must be more than nothing' }];
    const detail = 'Something in what was sent is not right. Check the marked fields.';
    await part.refuse('/api/organisation', { status: 400, code: 'invalid-request', detail, fields });
    expect(part.root.querySelector('.rate mat-error, .rate .wrong')!.textContent).toBe(
      'must be more than nothing',
    );
    expect(part.field<HTMLInputElement>('Rate').value).toBe('0');
  });

  test('a part of a country and days of one’s own are sent as they were chosen', async () => {
    const part = await show();
    await part.click(part.button('Choose a part of a country'));
    await part.answer('/api/holiday-regions', {
      regions: [{ code: 'SCT', name: 'Scotland', isUsual: false }],
    });
    await part.choose('Part of it', 'Scotland');
    await part.click(part.button('Add a day of our own'));
    await part.type(part.field('Day'), '29 Dec 2026');
    await part.type(part.field('What it is'), 'closed for stocktaking');
    await part.click(part.button('Save the organisation'));
    expect(part.asked('/api/organisation').request.body).toEqual({
      ...organisation,
      regions: { GB: 'SCT' },
      ownDaysOff: [{ on: '2026-12-29', name: 'closed for stocktaking' }],
    });
  });

  test('with another currency every rate has to be said anew', async () => {
    const part = await show();
    await part.type(
      part.root.querySelector<HTMLInputElement>('.form-grid kettle-long-choice-field input')!,
      'EUR',
    );
    expect(part.field<HTMLInputElement>('Rate').value).toBe('');
    expect(part.root.textContent).toContain('say anew what the others are worth in EUR');
  });
});

describe('what the Round reckons with', () => {
  const settings = {
    version: 2,
    p0: { reply: 0.5, lead: null, task: null, step: null, waking: null, stirring: null },
    halfDays: { reply: null, lead: null, task: null, waking: null, stirring: null },
    promiseMinor: 2500,
    leadMinor: null,
    silenceLossChance: 0.085,
    renewalHalfDays: 2,
    renewalLastDay: 0.4,
    dealFloor: 0.2,
    reserveMinutes: 15,
    minutes: { call: 6, email: 5, text: 2, meeting: 45, visit: 50, other: 10 },
  };
  const values = [
    { name: 'p0.reply', usual: 0.62, learned: 0.484, cases: 212 },
    { name: 'p0.lead', usual: 0.3, learned: null, cases: 12 },
    { name: 'leadMinor', usual: 12_000, learned: 20_550, cases: 40 },
  ];
  const show = async () => {
    const part = await showPart(RoundSettingsPart, { role: 'admin' });
    await part.answer('/api/round-settings', settings);
    await part.answer('/api/round-settings/learned', { values });
    return part;
  };
  const fieldOf = (part: Awaited<ReturnType<typeof show>>, words: string) =>
    [...part.root.querySelectorAll('mat-form-field')].find((field) => field.textContent.includes(words))!;
  const input = (part: Awaited<ReturnType<typeof show>>, words: string) =>
    fieldOf(part, words).querySelector('input')!;
  const preview = 'Show today’s order with these';

  test('is shown in per cent and money, and sent back as it was when nothing is typed', async () => {
    const part = await show();
    expect([input(part, 'somebody who wrote').value, input(part, 'silence loses').value]).toEqual([
      '50',
      '8.5',
    ]);
    expect(input(part, 'Keeping a promise').value).toBe('25');
    await part.click(part.button('Save the Round'));
    expect(part.asked('/api/round-settings').request.body).toEqual(settings);
  });

  test('beside each stands what is usual, what was learned and from how many cases; an empty one shows what counts', async () => {
    const part = await show();
    expect(fieldOf(part, 'somebody who wrote').textContent).toContain(
      'learned 48.4 % from 212 cases · usual 62 %',
    );
    expect(fieldOf(part, 'a new lead').textContent).toContain('usual 30 % · 12 cases so far');
    expect([input(part, 'a new lead').placeholder, input(part, 'without a deal').placeholder]).toEqual([
      '30',
      '£206',
    ]);
  });

  test('a chance over 100 is not sent, nor tried: it is said what it should be', async () => {
    const part = await show();
    await part.type(input(part, 'somebody who wrote'), '120');
    await part.click(part.button(preview));
    expect(part.root.querySelector('[role=alert]')!.textContent).toContain(
      'Put the marked fields above right',
    );
    await part.click(part.button('Save the Round'));
    expect(part.root.querySelector('mat-error')!.textContent).toBe(
      'must be a percentage such as 30, at most 100',
    );
    part.server.expectNone('/api/round-settings');
    part.server.expectNone((asked) => asked.url.endsWith('/preview'));
  });

  test('today’s order is shown as it would be, with where each stands now', async () => {
    const part = await show();
    await part.type(input(part, 'a new lead'), '90');
    await part.click(part.button(preview));
    const asked = part.asked('/api/round-settings/preview');
    expect(asked.request.body).toMatchObject({ version: 2, p0: { reply: 0.5, lead: 0.9, task: null } });
    const row = { key: 'lead:1', contactName: 'Maud Ellery', purpose: 'first contact' };
    asked.flush({
      rows: [
        { ...row, was: 7, becomes: 1, wasAbove: false, isAbove: true },
        {
          ...row,
          key: 'task:2',
          contactName: 'Ines Prado',
          was: 2,
          becomes: 2,
          wasAbove: true,
          isAbove: true,
        },
      ],
      total: 9,
      moved: 6,
    });
    await part.settle();
    const words = [...part.root.querySelectorAll('kettle-round-preview li')].map((each) =>
      each.textContent.replace(/\s+/g, ' ').trim(),
    );
    expect(part.root.textContent).toContain('6 of 9 rows would stand elsewhere.');
    expect(words).toEqual([
      '1 Maud Ellery · first contactnow 7, below the line',
      '2 Ines Prado · first contactas now',
    ]);
  });

  test('a preview that cannot be had is told, and asked for again', async () => {
    const part = await show();
    await part.click(part.button(preview));
    await part.refuse('/api/round-settings/preview', { status: 500, code: 'fault', detail: 'Not now.' });
    expect(part.root.textContent).toContain('Not now.');
  });
});

describe('how roads are', () => {
  const roads = { version: 2, factor: 1.3, kilometresAnHour: 50, parkingMinutes: 3 };
  const show = async () => {
    const part = await showPart(RoadSettingsPart, { role: 'admin' });
    await part.answer('/api/settings/roads', {
      ...roads,
      office: { words: 'ZM1', latitude: 54.02, longitude: -5.31 },
    });
    return part;
  };

  test('an office is a postcode or degrees, and is said when it is neither', async () => {
    const part = await show();
    const office = part.field(/^Office/);
    expect(office.value).toBe('ZM1');
    await part.type(office, 'somewhere');
    await part.click(part.button('Save the roads'));
    expect(part.root.textContent).toContain('is no postcode that is known here');
    part.server.expectNone('/api/settings/roads');
    await part.type(office, '54.1, -5.2');
    await part.click(part.button('Save the roads'));
    expect(part.asked('/api/settings/roads').request.body).toEqual({
      ...roads,
      office: { words: '54.1, -5.2', latitude: 54.1, longitude: -5.2 },
    });
  });

  test('without an office there is none', async () => {
    const part = await show();
    await part.type(part.field(/^Office/), '');
    await part.click(part.button('Save the roads'));
    expect(part.asked('/api/settings/roads').request.body).toMatchObject({ office: null });
  });
});
