import type { Mail } from '@kettle/contract';
import { showPart } from '../../../testing/part';
import { InvitationPanel } from './invitation-panel';

const id = (n: number) => `00000000-0000-7000-8000-00000000000${n}`;
const said = (root: Element) => root.textContent.replace(/\s+/g, ' ').trim();
const aMail = (invitation: object = {}, part: object = {}) =>
  ({
    ...{ id: id(1), contactId: id(2), ...part },
    invitation: {
      ...{
        title: 'Boiler house',
        place: 'Mill Lane',
        startsAt: '2026-12-03T14:00:00.000Z',
        endsAt: '2026-12-03T15:00:00.000Z',
      },
      ...{
        repeats: false,
        isWithdrawn: false,
        isMoved: false,
        answer: 'none',
        appointmentId: null,
        ...invitation,
      },
    },
  }) as unknown as Mail;
const show = (mail: Mail) => showPart(InvitationPanel, { inputs: { mail } });
const warnings = '/api/appointments/warnings';

test('it says when and where, and what is in the way; accepted with a word, the mail is read again', async () => {
  const part = await show(aMail());
  const changed = jest.fn();
  part.shown.changed.subscribe(changed);
  const asked = await part.answer(warnings, {
    warnings: [{ kind: 'overlap', words: 'At 14:00 you have “Survey”.' }],
  });
  expect(asked.request.body).toEqual({ startsAt: '2026-12-03T14:00:00.000Z', minutes: 60, exceptId: null });
  expect(said(part.root)).toContain('Thu 3 Dec 14:00–15:00');
  expect(said(part.root)).toContain('At 14:00 you have “Survey”.');
  await part.type(part.field('A word with the answer'), 'I bring the plans.');
  await part.click(part.button('Accept'));
  const { request } = await part.answer(`/api/mail/${id(1)}/invitation`, aMail({ answer: 'accepted' }));
  expect(request.body).toEqual({ answer: 'accepted', words: 'I bring the plans.' });
  expect(changed).toHaveBeenCalledTimes(1);
  expect(document.body.textContent).toContain('You accepted it. Boiler house');
});

test.each([
  ['called off', aMail({ isWithdrawn: true }), 'It was called off.', 0],
  [
    'over',
    aMail({ startsAt: '2026-11-20T14:00:00.000Z', endsAt: '2026-11-20T15:00:00.000Z' }),
    'Invitation.',
    0,
  ],
  ['of nobody yet', aMail({}, { contactId: null }), 'File the mail first', 0],
  ['moved since', aMail({ answer: 'accepted', isMoved: true, appointmentId: id(5) }), 'Answer once more.', 3],
  ['declined', aMail({ answer: 'declined' }), 'You declined it.', 3],
  ['one that repeats', aMail({ repeats: true }), 'It repeats.', 3],
])('%s', async (_, mail, words, buttons) => {
  const part = await show(mail);
  expect(said(part.root)).toContain(words);
  expect(part.root.querySelectorAll('button')).toHaveLength(buttons);
});

test('a refusal is said, and what was typed stays', async () => {
  const part = await show(aMail());
  await part.type(part.field('A word with the answer'), 'Sorry.');
  await part.click(part.button('Decline'));
  await part.refuse(`/api/mail/${id(1)}/invitation`, {
    status: 409,
    code: 'already-done',
    detail: 'It was called off.',
  });
  expect(document.body.textContent).toContain('It was called off.');
  expect(part.field('A word with the answer').value).toBe('Sorry.');
});
