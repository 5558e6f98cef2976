import { showPart } from '../../../testing/part';
import { SignIn } from './index';

const person = {
  id: '0193a000-0000-7000-8000-0000000000a1',
  hours: { weekdays: [1, 2, 3, 4, 5], start: 540, end: 1020 },
};
const session = { person };
const show = async (door: object = {}) => {
  const entered: unknown[] = [];
  const part = await showPart(SignIn);
  part.shown.entered.subscribe((each) => entered.push(each));
  await part.answer('/api/doorstep', { needsAdmin: false, demoPeople: [], ...door });
  return { part, entered };
};
const signInBy = async ({ part }: Awaited<ReturnType<typeof show>>) => {
  await part.type(part.field('E-mail address'), 'ada@hollinbeck.example');
  await part.type(part.field('Password'), 'copper kettle');
  await part.click(part.button('Sign in'));
};

describe('the door', () => {
  test('nothing is sent while something is missing, and it says what', async () => {
    const { part } = await show();
    await part.click(part.button('Sign in'));
    part.server.expectNone('/api/session');
    for (const name of ['E-mail address', 'Password']) {
      const box = part.field(name);
      expect(box.getAttribute('aria-invalid')).toBe('true');
      expect(document.getElementById(box.getAttribute('aria-describedby')!)?.textContent).toBe('is missing');
    }
  });

  test('it sends once, however often it is pressed, and lets in whoever is known', async () => {
    const shown = await show();
    await signInBy(shown);
    await shown.part.click(shown.part.button('Sign in'));
    const { request } = await shown.part.answer('/api/session', session);
    expect(request.body).toEqual({ email: 'ada@hollinbeck.example', password: 'copper kettle' });
    expect(shown.entered).toMatchObject([{ person: { id: person.id } }]);
  });

  test('a wrong password is told, and what was typed stays', async () => {
    const shown = await show();
    await signInBy(shown);
    const wrong = { status: 401, code: 'wrong-sign-in', detail: 'Address or password is wrong.' };
    await shown.part.refuse('/api/session', wrong);
    expect(shown.part.root.querySelector('[role=alert]')?.textContent).toBe('Address or password is wrong.');
    expect(shown.part.field('E-mail address').value).toBe('ada@hollinbeck.example');
    expect(shown.entered).toEqual([]);
  });

  test('with a second factor its code is asked for, and sent along', async () => {
    const shown = await show();
    await signInBy(shown);
    const needed = { status: 401, code: 'code-needed', detail: 'Type the code.' };
    await shown.part.refuse('/api/session', needed);
    await shown.part.type(shown.part.field(/authenticator/), '123456');
    await shown.part.click(shown.part.button('Sign in'));
    const { request } = await shown.part.answer('/api/session', session);
    expect(request.body).toMatchObject({ code: '123456' });
  });

  test('a link for a new password needs the address, and says where it went', async () => {
    const { part } = await show();
    await part.click(part.button(/Forgot your password/));
    part.server.expectNone('/api/account/forgot');
    expect(part.field('E-mail address').getAttribute('aria-invalid')).toBe('true');
    await part.type(part.field('E-mail address'), 'ada@hollinbeck.example');
    await part.click(part.button(/Forgot your password/));
    part.server.expectOne(({ method }) => method === 'POST').flush({ ok: true });
    await part.settle();
    expect(part.root.querySelector('[role=status]')?.textContent).toContain(
      'If ada@hollinbeck.example signs in',
    );
  });

  test('in the demo one press is enough', async () => {
    const ada = {
      name: 'Ada Quick',
      email: 'ada@hollinbeck.example',
      role: 'admin',
      words: 'all',
      password: 'x',
    };
    const { part, entered } = await show({ demoPeople: [ada] });
    await part.click(part.button(/Ada Quick/));
    await part.answer('/api/session', session);
    expect(entered).toHaveLength(1);
  });

  test('an empty installation makes its first admin; what the server refuses stands at its field', async () => {
    const { part } = await show({ needsAdmin: true });
    await part.type(part.field('Your name'), 'Ada Quick');
    await part.type(part.field('E-mail address'), 'ada@hollinbeck.example');
    await part.type(part.field(/Password/), 'short');
    await part.click(part.button('Create the first admin'));
    const asked = part.server.expectOne(({ method }) => method === 'POST');
    expect(asked.request.body).toMatchObject({ name: 'Ada Quick', zone: expect.any(String) });
    const fields = [{ path: 'password', message: 'needs at least 12 characters' }];
    asked.flush(
      { code: 'invalid-request', detail: 'Something is wrong.', fields },
      { status: 422, statusText: 'refused' },
    );
    await part.settle();
    const box = part.field(/Password/);
    expect(document.getElementById(box.getAttribute('aria-describedby')!)?.textContent).toBe(
      'needs at least 12 characters',
    );
  });
});
