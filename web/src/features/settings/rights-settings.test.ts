import { showPart } from '../../../testing/part';
import { RightsSettingsPart } from './rights-settings';

const stored = { version: 3, reading: 'all', sharing: 'deal-team', exports: 'rep', releases: 'manager' };

async function show() {
  const part = await showPart(RightsSettingsPart, { role: 'admin' });
  await part.answer('/api/rights-settings', stored);
  return part;
}

test('what holds is chosen, and what is chosen is saved over the version that was seen', async () => {
  const part = await show();
  expect(part.field('Everybody reads all').checked).toBe(true);
  await part.click(part.field(/^Their own, their team/));
  await part.click(part.button('Save rights'));
  expect(part.asked('/api/rights-settings').request.body).toEqual({ ...stored, reading: 'team' });
});

test('what another admin changed meanwhile is asked about in its own words', async () => {
  const part = await show();
  await part.click(part.field(/^Their own, their team/));
  await part.click(part.button('Save rights'));
  await part.refuse('/api/rights-settings', {
    status: 409,
    code: 'stale',
    detail: 'Changed meanwhile.',
    current: { ...stored, version: 4, reading: 'own' },
    fields: [{ path: 'reading', message: 'was changed' }],
  });
  expect(part.root.textContent).toContain('Their own and nobody’s; a manager also their people’s');
});
