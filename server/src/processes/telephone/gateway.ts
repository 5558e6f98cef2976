import { createHmac, timingSafeEqual } from 'node:crypto';

/** Signs what two sides that share a secret tell each other: HMAC-SHA256 of the body, in hex (RFC 2104). */
export function signatureOf(body: string, secret: string): string {
  return createHmac('sha256', secret).update(body).digest('hex');
}

export function isSignedBy(body: string, signature: string, secret: string): boolean {
  const expected = Buffer.from(signatureOf(body, secret));
  const given = Buffer.from(signature);
  return given.length === expected.length && timingSafeEqual(given, expected);
}

const patienceMillis = 10_000;

/** Posts JSON to a gateway. @throws GatewayRefusal with its words when it says no; Error when it cannot be reached */
export async function postTo(
  url: string,
  body: unknown,
  headers: Readonly<Record<string, string>> = {},
): Promise<unknown> {
  const reply = await fetch(url, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', ...headers },
    body: JSON.stringify(body),
    signal: AbortSignal.timeout(patienceMillis),
  });
  const text = await reply.text();
  if (reply.status >= 400 && reply.status < 500) throw new GatewayRefusal(text.slice(0, 300));
  if (!reply.ok) throw new Error(`the gateway answered ${reply.status}`);
  return text === '' ? null : (JSON.parse(text) as unknown);
}

/** The gateway understood and will not do it: trying again is of no use. */
export class GatewayRefusal extends Error {}
