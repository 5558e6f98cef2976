import type { Account } from '@kettle/contract';
import { showPart } from '../../../testing/part';
import { AccountDialog } from './account-dialog';
import { AccountsPart } from './accounts-part';
import { DeactivateDialog } from './deactivate-dialog';
import { InviteDialog } from './invite-dialog';
import { MyAccountPart } from './my-account';
import { SecurityPart } from './security-part';

const ids = {
  ada: '0193a000-0000-7000-8000-0000000000a1',
  rufus: '0193a000-0000-7000-8000-0000000000b2',
  gone: '0193a000-0000-7000-8000-0000000000c3',
} as const;
const account = (part: object = {}): Account =>
  ({
    id: ids.rufus,
    name: 'Rufus Dale',
    email: 'rufus@hollinbeck.example',
    role: 'rep',
    managerId: null,
    managerName: null,
    state: 'active',
    hasSecondFactor: false,
    isDemo: false,
    seenAt: null,
    version: 2,
    ...part,
  }) as Account;
const ada = account({ id: ids.ada, name: 'Ada Quick', role: 'admin', version: 1 });
const gone = account({ id: ids.gone, name: 'Lena Marsh', state: 'deactivated' });

describe('people who sign in', () => {
  const show = async (role: 'manager' | 'admin' = 'admin') => {
    const part = await showPart(AccountsPart, { role });
    await part.answer('/api/accounts', { accounts: [ada, account(), gone] });
    return part;
  };

  test('who was deactivated is hidden, and said to be', async () => {
    const part = await show();
    expect(part.root.textContent).toContain('1 deactivated are hidden');
    expect(part.root.textContent).not.toContain('Lena Marsh');
    await part.click(part.button('show them'));
    expect(part.root.textContent).toContain('Lena Marsh');
  });

  test('a manager sees them, and is offered nothing', async () => {
    const part = await show('manager');
    expect(() => part.button('Invite somebody')).toThrow();
    expect(() => part.button('Acts on Rufus Dale')).toThrow();
  });

  test('a link that no mail could carry is shown to be handed on', async () => {
    const part = await show();
    await part.click(part.button('Acts on Rufus Dale'));
    const items = [...document.querySelectorAll<HTMLElement>('[mat-menu-item]')];
    await part.click(items.find((each) => each.textContent.includes('new password'))!);
    const link = 'http://kettle.test/account#x';
    await part.answer(`/api/accounts/${ids.rufus}/link`, { account: account(), sentTo: null, link });
    expect(part.root.textContent).toContain(link);
  });
});

test('an invitation is sent once, and says what is wrong at its field', async () => {
  const part = await showPart(InviteDialog, { role: 'admin', data: [ada] });
  await part.type(part.field('Name'), 'Rufus Dale');
  await part.type(part.field('E-mail address'), 'rufus@hollinbeck');
  await part.click(part.button('Send the invitation'));
  await part.click(part.button('Send the invitation'));
  expect(part.server.match('/api/accounts')).toHaveLength(1);
});

test('role and manager are saved over the version that was seen', async () => {
  const part = await showPart(AccountDialog, {
    role: 'admin',
    data: { account: account(), all: [ada, account()] },
  });
  await part.choose('Role', /^manager/);
  await part.click(part.button('Save'));
  expect(part.asked(`/api/accounts/${ids.rufus}`).request.body).toEqual({
    version: 2,
    name: 'Rufus Dale',
    role: 'manager',
    managerId: null,
  });
});

test('whoever leaves is asked for an heir of what they own', async () => {
  const part = await showPart(DeactivateDialog, {
    role: 'admin',
    data: { account: account(), all: [ada, account(), gone] },
  });
  const nothing = { contacts: 0, companies: 0, leads: 0, deals: 0, tasks: 0, agreements: 0, runs: 0 };
  await part.answer(`/api/accounts/${ids.rufus}/owned`, { ...nothing, contacts: 1, deals: 2 });
  expect(part.root.textContent).toContain('They own 1 person, 2 open deals.');
  const heirs = await part.choicesOf('Who gets all of it');
  expect(heirs).toEqual(['choose', 'Ada Quick']);
  await part.click(part.button('Deactivate'));
  await part.refuse(`/api/accounts/${ids.rufus}/deactivate`, {
    status: 422,
    code: 'hand-over-needed',
    detail: 'Rufus Dale has 2 open deals. Choose who gets them.',
    fields: [{ path: 'handOverTo', message: 'must be somebody' }],
  });
  expect(part.root.textContent).toContain('must be somebody');
});

describe('my account', () => {
  const session = (part: object = {}) => ({
    id: '0193a000-0000-7000-8000-0000000000d4',
    device: 'Firefox on Linux',
    since: '2026-11-23T09:00:00.000Z',
    seenAt: '2026-11-24T08:00:00.000Z',
    isThis: false,
    ...part,
  });
  const mine = (part: object = {}) => ({
    secondFactor: 'off',
    isRequired: false,
    recoveryCodesLeft: 0,
    sessions: [session({ id: '0193a000-0000-7000-8000-0000000000e5', isThis: true }), session()],
    ...part,
  });
  const show = async (part: object = {}) => {
    const shown = await showPart(MyAccountPart);
    await shown.answer('/api/me/account', mine(part));
    return shown;
  };

  test('the second factor is shown as a picture and a key, and its codes once it is proven', async () => {
    const part = await show();
    await part.click(part.button('Set up'));
    await part.answer('/api/me/second-factor', {
      secret: 'ABCD EFGH',
      uri: 'otpauth://totp/x',
      picture: '<svg viewBox="0 0 1 1"></svg>',
    });
    expect(part.root.querySelector('.picture svg')).not.toBeNull();
    expect(part.root.textContent).toContain('ABCD EFGH');
    await part.type(part.field('The six digits that the app shows'), '123456');
    await part.click(part.button('Turn on'));
    const asked = part.asked('/api/me/second-factor/prove');
    expect(asked.request.body).toEqual({ code: '123456' });
    asked.flush({ codes: ['ABCDE-FGH23'] });
    await part.settle();
    expect(part.root.textContent).toContain('ABCDE-FGH23');
    await part.click(part.button('I have kept them'));
    expect(part.root.textContent).not.toContain('ABCDE-FGH23');
  });

  test('what the role needs cannot be turned off', async () => {
    const part = await show({ secondFactor: 'on', isRequired: true, recoveryCodesLeft: 7 });
    expect(part.root.textContent).toContain('7 of 10 recovery codes are left');
    expect(() => part.button('Turn off')).toThrow();
  });

  test('another browser is signed out by its own button; this one has none', async () => {
    const part = await show();
    await part.click(part.button('Sign out Firefox on Linux'));
    expect(part.asked(`/api/me/sessions/${session().id}`).request.method).toBe('DELETE');
  });

  test('a wrong password until now is said, and nothing typed is lost', async () => {
    const part = await show();
    await part.click(part.button('Change password'));
    await part.type(part.field('Password until now'), 'wrong');
    await part.type(part.field('New password, at least 12 characters'), 'three grey herons');
    await part.click(part.button('Save password'));
    await part.refuse('/api/me/password', {
      status: 403,
      code: 'wrong-password',
      detail: 'That is not your password. Type the one you signed in with.',
    });
    expect(part.root.textContent).toContain('That is not your password.');
    expect(part.field('New password, at least 12 characters').value).toBe('three grey herons');
  });
});

test('the log of security is narrowed by what happened', async () => {
  const part = await showPart(SecurityPart, { role: 'admin' });
  await part.answer('/api/accounts-settings', {
    version: 1,
    idleHours: 12,
    absoluteDays: 14,
    secondFactorFrom: 'nobody',
  });
  await part.answer('/api/security-events', { events: [], kinds: ['exported', 'signed-in'] });
  expect(part.root.textContent).toContain('Nothing yet.');
  await part.choose('Show', 'exported');
  expect(part.asked('/api/security-events').request.params.get('kind')).toBe('exported');
});
