import { createHmac, randomBytes } from 'node:crypto';

const secretHead = 'whsec_';
const secretBytes = 32;

/** @example newSecret() // 'whsec_MfKQ9r8GKYqrTwjUPD8ILPZIo2LaLaSw…', Standard Webhooks, “Signature scheme”: 24 to 64 random bytes */
export const newSecret = (): string => secretHead + randomBytes(secretBytes).toString('base64');

/** What a request carries beside its body (Standard Webhooks, “Webhook headers”). */
export interface HookHeaders {
  readonly 'webhook-id': string;
  readonly 'webhook-timestamp': string;
  readonly 'webhook-signature': string;
}

/**
 * Signs a message as it leaves: HMAC-SHA-256 over `id.timestamp.body`, for each secret one signature, apart by a space.
 * @param atMillis when it is sent; the header says it in whole seconds
 * @param secrets the one that counts, and the one before it while that still does
 */
export function signed(id: string, atMillis: number, body: string, secrets: readonly string[]): HookHeaders {
  const timestamp = String(Math.floor(atMillis / 1000));
  const signatures = secrets.map(
    (secret) =>
      `v1,${createHmac('sha256', Buffer.from(secret.slice(secretHead.length), 'base64'))
        .update(`${id}.${timestamp}.${body}`)
        .digest('base64')}`,
  );
  return {
    'webhook-id': id,
    'webhook-timestamp': timestamp,
    'webhook-signature': signatures.join(' '),
  };
}
