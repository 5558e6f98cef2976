import { showPart } from '../../../testing/part';
import { SettingsPage } from './settings-page';

const show = async (role: 'rep' | 'manager' | 'admin', part?: string) => {
  const { root } = await showPart(SettingsPage, { role, inputs: part ? { part } : {} });
  return {
    groups: [...root.querySelectorAll('nav h2')].map((each) => each.textContent.trim()),
    links: [...root.querySelectorAll<HTMLAnchorElement>('nav a')].map((each) => each.getAttribute('href')),
    current: root.querySelector('nav [aria-current=page]')?.textContent.trim(),
  };
};

test('a rep sees what is theirs', async () => {
  expect(await show('rep')).toEqual({
    groups: ['Mine'],
    links: [
      ...['/settings?part=me', '/settings?part=calendars', '/settings?part=told', '/settings?part=account'],
      '/settings?part=keys',
    ],
    current: 'My hours, and away',
  });
});

test('a manager also sees the people, and nothing of the admin’s by its address', async () => {
  const { groups, current } = await show('manager', 'rights');
  expect([groups, current]).toEqual([['Mine', 'People', 'Selling'], 'My hours, and away']);
});

test('an admin sees all of it, in groups', async () => {
  const { groups, links, current } = await show('admin', 'fields');
  expect(groups).toEqual(['Mine', 'People', 'Selling', 'Installation']);
  expect([links.length, new Set(links).size, current]).toEqual([23, 23, 'Custom fields']);
});
