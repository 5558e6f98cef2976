import { readCalendar, writeCalendar } from '@kettle/core/invitations';
import { answerText, invitationIn } from './invitations';
import { reactionToInvitation } from './habits';

const text = writeCalendar({
  method: 'REQUEST',
  events: [
    {
      ...{
        uid: 'a1@hollinbeck.example',
        sequence: 3,
        stampedAt: '2026-11-24T09:10:00.000Z',
        title: 'Survey',
      },
      ...{
        startsAt: '2026-12-31T14:00:00.000Z',
        endsAt: '2026-12-31T15:00:00.000Z',
        place: null,
        description: null,
      },
      ...{ isCancelled: false, organizer: { name: 'Imogen Thorne', email: 'imogen@hollinbeck.example' } },
      attendees: [{ name: 'Maud', email: 'maud@penrow.example', answer: 'none' }],
    },
  ],
});
const mailOf = (contentType: string) =>
  ({ attachments: [{ contentType, content: Buffer.from(text) }] }) as unknown as Parameters<
    typeof invitationIn
  >[0];

test('an answer repeats what was asked, in its sender’s name', () => {
  const invitation = invitationIn(mailOf('text/calendar'))!;
  expect(invitation).toMatchObject({ method: 'REQUEST', uid: 'a1@hollinbeck.example', sequence: '3' });
  const now = new Date('2026-11-25T08:00:00Z');
  expect(readCalendar(answerText(invitation, 'maud@penrow.example', 'ACCEPTED', now), 'UTC')).toMatchObject({
    method: 'REPLY',
    events: [
      {
        ...{ uid: 'a1@hollinbeck.example', sequence: 3, stampedAt: '2026-11-25T08:00:00.000Z' },
        startsAt: '2026-12-31T14:00:00.000Z',
        attendees: [{ email: 'maud@penrow.example', answer: 'accepted' }],
      },
    ],
  });
  expect(readCalendar(answerText(invitation, 'maud@penrow.example', 'counter', now), 'UTC')).toMatchObject({
    method: 'COUNTER',
    events: [{ startsAt: '2027-01-01T14:00:00.000Z', endsAt: '2027-01-01T15:00:00.000Z' }],
  });
});

test('a mail without a calendar is none', () => {
  expect(invitationIn(mailOf('text/plain'))).toBeNull();
});

test('every answer is given by somebody, the same one each time', () => {
  const all = Array.from({ length: 400 }, (_, n) => reactionToInvitation('a', `p${n}@firm.example`, 'u'));
  expect(new Set(all.map((each) => each?.answer))).toEqual(
    new Set(['ACCEPTED', 'DECLINED', 'TENTATIVE', 'counter', undefined]),
  );
  expect(reactionToInvitation('a', 'p7@firm.example', 'u')).toEqual(all[7]);
});
