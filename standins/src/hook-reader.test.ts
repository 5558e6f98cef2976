import { Webhook } from 'standardwebhooks';
import { Happened } from './happened';
import { HookReader } from './hook-reader';

const secret = 'whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw';
const body = JSON.stringify({
  type: 'deal.moved',
  data: { record: 'deal', id: 'd1', href: '/api/deals/d1' },
});
const headersOf = (by: string, id = 'msg_1') => {
  const at = new Date();
  return {
    'webhook-id': id,
    'webhook-timestamp': String(Math.floor(at.getTime() / 1000)),
    'webhook-signature': new Webhook(by).sign(id, at, body),
  };
};
const words = (happened: Happened) => happened.list().map((each) => each.words);

test('what is signed with its secret is read, each message once; all else is refused', () => {
  const happened = new Happened();
  const reader = new HookReader(happened);
  expect([reader.hasSecret, reader.take(body, headersOf(secret))]).toEqual([false, 401]);
  reader.trust(` ${secret} `);
  expect(reader.take(body, headersOf(secret))).toBe(204);
  expect(reader.take(body, headersOf(secret))).toBe(204);
  expect(reader.take(body, headersOf('whsec_C2FVsBQIhrscChlQIMV+b5sSYspob7oD'))).toBe(401);
  expect(reader.take('{}', headersOf(secret, 'msg_2'))).toBe(401);
  expect(words(happened)).toEqual([
    'refused: No matching signature found',
    'refused: No matching signature found',
    'deal.moved: known already',
    'deal.moved: /api/deals/d1',
    'refused: it knows no secret yet',
  ]);
});
