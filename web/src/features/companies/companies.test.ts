import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import type { Company } from '@kettle/contract';
import { aCount, showPart } from '../../../testing/part';
import { CompaniesPage } from './companies-page';
import { CompanyDialog } from './company-dialog';

/** jsdom lays nothing out: the viewport is told a height, so that it renders rows. */
beforeEach(() => {
  Object.defineProperty(HTMLElement.prototype, 'clientHeight', { configurable: true, value: 400 });
});
const said = (root: HTMLElement) => root.textContent.replace(/\s+/g, ' ');
const address = () => new URL(TestBed.inject(Router).url, 'http://kettle.test').searchParams;

describe('companies', () => {
  const show = async (rows: readonly object[], inputs: object = {}) => {
    const part = await showPart(CompaniesPage, { inputs: { ...inputs } });
    await part.answerAll('/api/companies/count', aCount(rows.length, { total: 9 }));
    await part.answerAll('/api/companies', { rows });
    await part.pass(50);
    return part;
  };

  test('are listed, and a filter says how many it hides', async () => {
    const part = await show([{ id: 'f1', name: 'Pell Spa' }], { owner: 'mine' });
    expect(said(part.root)).toContain('Pell Spa');
    expect(said(part.root)).toContain('1 found · a filter hides 8');
    await part.click(part.button('mine'));
    await part.pass(0);
    expect(address().get('owner')).toBeNull();
  });

  test.each([
    [{}, 'A company is made with its first person'],
    [{ q: 'spa' }, 'No company matches'],
    [{ archived: 'yes' }, 'Archive a company from the menu beside its name.'],
  ])('where none is listed, %j says %j', async (inputs, words) => {
    expect(said((await show([], inputs)).root)).toContain(words);
  });
});

describe('a changed company', () => {
  const site = (part: object = {}) => ({
    ...{ id: 's1', name: 'Works', street: 'Mill Lane', postcode: 'MW1 2AB', city: 'Marrow' },
    ...{ country: 'GB', zone: 'Europe/London' },
    ...part,
  });
  const show = (sites: readonly object[] = [site()]) =>
    showPart(CompanyDialog, {
      data: { id: 'f1', name: 'Pell Spa', version: 4, custom: {}, trade: 'spa', sites } as unknown as Company,
    });
  const sent = async (part: Awaited<ReturnType<typeof show>>) => {
    await part.click(part.button('Save'));
    return part.asked('/api/companies/f1').request.body as { version: number; sites: { zone: unknown }[] };
  };

  test('is sent over the version that was seen, an emptied field as none', async () => {
    const part = await show();
    await part.type(part.field('Street'), ' ');
    expect(await sent(part)).toMatchObject({
      version: 4,
      name: 'Pell Spa',
      sites: [{ id: 's1', street: null, city: 'Marrow', zone: 'Europe/London' }],
    });
  });

  test('another site is added in the same country, its zone from the country, and taken away again', async () => {
    const part = await show();
    await part.click(part.button('Add a site'));
    expect(part.root.querySelectorAll('fieldset')).toHaveLength(2);
    const [, added] = (await sent(part)).sites;
    expect(added).toMatchObject({ id: null, country: 'GB', zone: null });
    await part
      .refuse('/api/companies/f1', { status: 503, code: 'database-away', detail: 'In a moment.' })
      .catch(() => undefined);
    await part.click(part.button('Remove'));
    expect(part.root.querySelectorAll('fieldset')).toHaveLength(1);
  });

  test('what two changed is shown with both values, and nothing that was typed is lost', async () => {
    const part = await show();
    await part.type(part.field('Name'), 'Pell Spas');
    await part.click(part.button('Save'));
    await part.refuse('/api/companies/f1', {
      status: 409,
      code: 'stale',
      detail: 'Somebody changed it.',
      fields: [{ path: 'name', message: 'was changed by Dara Finch meanwhile' }],
      current: { version: 5, name: 'Pell & Sons' },
    });
    expect(said(part.root)).toContain('was changed by Dara Finch meanwhile');
    expect(said(part.root)).toContain('Pell & Sons');
    expect(part.closedWith).toEqual([]);
  });
});
