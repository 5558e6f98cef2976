import fc from 'fast-check';
import { Webhook } from 'standardwebhooks';
import { newSecret, signed } from './sign';

// Standard Webhooks 1.0, “Signature scheme”. The package is its reference implementation for JavaScript.

test('the example of the specification', () => {
  // From memory of the specification’s text; the package, asked for the same, agrees.
  const [secret, id, body] = [
    'whsec_plJ3nmyCDGBKInavdOK15jsl',
    'msg_loFOjxBNrRLzqYUf',
    '{"event_type":"ping","data":{"success":true}}',
  ];
  const sent = signed(id, 1_731_705_121_000, body, [secret]);
  expect(sent).toEqual({
    'webhook-id': id,
    'webhook-timestamp': '1731705121',
    'webhook-signature': 'v1,rAvfW3dJ/X/qxhsaXPOyyCGmRKsaKWcsNccKXlIktD0=',
  });
  expect(new Webhook(secret).sign(id, new Date(1_731_705_121_000), body)).toBe(sent['webhook-signature']);
});

test('the package reads whatever we sign, by either secret of two, and nothing that was changed on the way', () => {
  const now = Date.now();
  fc.assert(
    fc.property(fc.json(), fc.uuid(), fc.boolean(), (body, id, isFormer) => {
      const [secret, former] = [newSecret(), newSecret()];
      const headers = { ...signed(id, now, body, [secret, former]) };
      const reader = new Webhook(isFormer ? former : secret);
      expect(() => reader.verify(body, headers)).not.toThrow();
      expect(() => reader.verify(`${body} `, headers)).toThrow('No matching signature');
      expect(() => reader.verify(body, { ...headers, 'webhook-id': `${id}0` })).toThrow(
        'No matching signature',
      );
      expect(() => new Webhook(newSecret()).verify(body, headers)).toThrow('No matching signature');
    }),
  );
});

test('a message that lay about for more than five minutes is refused there', () => {
  const secret = newSecret();
  const headers = { ...signed('msg_1', Date.now() - 301_000, '{}', [secret]) };
  expect(() => new Webhook(secret).verify('{}', headers)).toThrow('too old');
});

test('a secret has 32 random bytes, within the 24 to 64 of the specification', () => {
  const secrets = Array.from({ length: 50 }, newSecret);
  expect(new Set(secrets).size).toBe(50);
  expect(new Set(secrets.map((each) => Buffer.from(each.replace('whsec_', ''), 'base64').length))).toEqual(
    new Set([32]),
  );
});
