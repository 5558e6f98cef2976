import { aDealRow } from '../../../testing/deals';
import { showPart } from '../../../testing/part';
import { DealPicker } from './deal-picker';

const company = { id: 'linde', name: 'Hotel Linde' };
const rows = [
  aDealRow({ id: 'd1', name: 'Softener for the spa', companyId: 'linde' }),
  aDealRow({ id: 'd2', name: 'Yearly service', companyId: 'linde' }),
  // The name of another company has the words too.
  aDealRow({ id: 'd3', name: 'Softener', companyId: 'linden' }),
];

async function show(inputs: object = {}) {
  const picked: string[] = [];
  const part = await showPart(DealPicker, { inputs: { label: 'Part of', company, ...inputs } });
  part.shown.picked.subscribe((id) => picked.push(id));
  const box = part.root.querySelector('input')!;
  const look = async (text: string) => {
    box.dispatchEvent(new Event('focusin'));
    await part.type(box, text);
    await part.pass(200);
    const asked = await part.answer('/api/deals/page', { rows });
    await part.settle();
    return asked;
  };
  const names = () => [...document.querySelectorAll('mat-option b')].map((each) => each.textContent);
  return { part, picked, box, look, names };
}
afterEach(() => document.querySelectorAll('.cdk-overlay-container').forEach((each) => each.remove()));

test('finds deals of its company by a part of their name, and no others', async () => {
  const { part, picked, look, names } = await show();
  const asked = await look('soft');
  expect(asked.request.params.get('q')).toBe('Hotel Linde');
  expect(names()).toEqual(['Softener for the spa']);
  document.querySelector<HTMLElement>('mat-option')!.click();
  await part.settle();
  expect(picked).toEqual(['d1']);
});

test('never the deal itself; what is not found is said', async () => {
  const { part, look, names } = await show({ except: 'd1' });
  await look('soft');
  expect(names()).toEqual([]);
  expect(part.root.textContent).toContain('Nothing of that name.');
});

test('what it is part of already is named', async () => {
  const { box } = await show({ value: 'd2', before: { id: 'd2', name: 'Yearly service' } });
  expect(box.value).toBe('Yearly service');
});
