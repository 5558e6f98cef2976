import { showPart } from '../../../testing/part';
import { CalendarFeedPart } from './calendar-feed';

Element.prototype.scrollIntoView = () => undefined;
const said = (root: Element) => root.textContent.replace(/\s+/g, ' ').trim();
const made = { createdAt: '2026-11-24T09:00:00.000Z', readAt: null };

test('an address is made, shown once, and withdrawn', async () => {
  const part = await showPart(CalendarFeedPart);
  await part.answer('/api/calendar/feed', { feed: null });
  await part.click(part.button('Make an address'));
  await part.answer('/api/calendar/feed', { url: 'http://127.0.0.1/out/calendar/abc.ics' });
  await part.answer('/api/calendar/feed', { feed: made });
  expect(part.field('The address').value).toBe('http://127.0.0.1/out/calendar/abc.ics');
  expect(said(part.root)).toContain('Nobody has read it yet.');
  await part.click(part.button('Withdraw it'));
  const { request } = await part.answer('/api/calendar/feed', { ok: true });
  expect(request.method).toBe('DELETE');
  await part.answer('/api/calendar/feed', { feed: null });
  expect(() => part.field('The address')).toThrow('no field');
  expect(part.button('Make an address')).toBeTruthy();
});

test('a refusal says why and leaves what there is', async () => {
  const part = await showPart(CalendarFeedPart);
  await part.answer('/api/calendar/feed', { feed: made });
  await part.click(part.button('Make another, and withdraw this one'));
  await part.refuse('/api/calendar/feed', { status: 429, code: 'too-many-tries', detail: 'Wait a while.' });
  expect(document.body.textContent).toContain('Wait a while.');
  expect(part.button('Withdraw it')).toBeTruthy();
});
