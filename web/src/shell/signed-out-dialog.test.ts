import { showPart } from '../../testing/part';
import { Api } from '../api/api';
import { SessionEnd } from '../api/session-end';
import { TestBed } from '@angular/core/testing';
import { SignedOutDialog } from './signed-out-dialog';

const refusal = (code: string, detail: string) => ({ status: 401, code, detail });

test('whoever was here gives their password, and the code when it is asked for; nothing else is asked', async () => {
  const part = await showPart(SignedOutDialog);
  expect(part.root.textContent).toContain('Imogen Thorne’s session here has ended');
  await part.click(part.button('Sign in'));
  part.server.expectNone('/api/session');
  await part.type(part.field('Password'), 'copper kettle');
  await part.click(part.button('Sign in'));
  await part.refuse('/api/session', refusal('code-needed', 'Type the code.'));
  await part.type(part.field(/^Code of the authenticator app/), '123456');
  await part.click(part.button('Sign in'));
  const hours = { weekdays: [1], start: 540, end: 1020 };
  const asked = await part.answer('/api/session', { person: { id: 'me', hours } });
  expect(asked.request.body).toMatchObject({ password: 'copper kettle', code: '123456' });
  expect(part.closedWith).toMatchObject([{ person: { id: 'me' } }]);
});

test('an answer that the session is not known is told once to whoever listens; other refusals are not', async () => {
  const part = await showPart(SignedOutDialog);
  let told = 0;
  TestBed.inject(SessionEnd).ends.subscribe(() => (told += 1));
  for (const code of ['not-signed-in', 'not-allowed']) {
    TestBed.inject(Api)
      .call('listTags')
      .subscribe({ error: () => undefined });
    await part.refuse('/api/tags', refusal(code, 'x'));
  }
  expect(told).toBe(1);
});
