import { showPart } from '../../../testing/part';
import { SetupSteps } from './setup-steps';

const names = ['organisation', 'hours', 'people', 'pipeline', 'contacts', 'mail'] as const;
const setup = (part: { done?: string[]; skipped?: string[] } = {}) => ({
  version: 3,
  steps: names.map((name) => ({
    name,
    isDone: part.done?.includes(name) ?? false,
    isSkipped: part.skipped?.includes(name) ?? false,
  })),
});
const show = async (read: object) => {
  const part = await showPart(SetupSteps, { role: 'admin' });
  await part.answer('/api/setup', read);
  return part;
};

test('what is left is said, each step leads to its place, and one that is skipped can be undone', async () => {
  const part = await show(setup({ done: ['people'], skipped: ['mail'] }));
  expect(part.root.textContent).toContain('4 to go');
  const links = [...part.root.querySelectorAll('a')].map((each) => each.getAttribute('href'));
  expect(links).toContain('/settings?part=pipelines');
  expect(links).toContain('/import');
  const states = [...part.root.querySelectorAll('li mat-icon')].map((each) =>
    each.getAttribute('aria-label'),
  );
  expect(states).toEqual(['to do', 'to do', 'done', 'to do', 'to do', 'skipped']);
  await part.click(part.button('Skip'));
  const sent = part.asked('/api/setup');
  expect(sent.request.body).toEqual({ version: 3, skipped: ['organisation', 'mail'] });
  sent.flush(setup({ done: ['people'], skipped: ['organisation', 'mail'] }));
  await part.settle();
  expect(document.body.textContent).toContain('Name, country, currency and time zone: skipped.');
  expect(part.root.textContent).toContain('3 to go');
});

test('once nothing is left it is gone from the Round, and still found in the settings', async () => {
  const part = await show(setup({ done: [...names] }));
  expect(part.root.textContent.trim()).toBe('');
  part.fixture.componentRef.setInput('isAlways', true);
  await part.settle();
  expect(part.root.textContent).toContain('Everything is set up.');
});
