import { createDecipheriv, createHmac, randomInt } from 'node:crypto';
import type { UserId } from '@kettle/contract';
import { Secret, TOTP } from 'otpauth';
import QRCode from 'qrcode';
import type { Queryable, WithKeys } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { readSecret } from '../../platform/database/secret';
import { sqlInstant } from '../../platform/database/values';
import { isSealed } from '../../platform/database/keys';
import { bytesOf, idOf } from '../../platform/ids';

/** SHA-1, six digits, thirty seconds: what every authenticator app knows (RFC 6238). */
const totpOf = (secret: Secret, label: string) => new TOTP({ issuer: 'Ash Kettle', label, secret });
const stepSeconds = 30;
/** A clock that is half a minute wrong still proves who somebody is. */
const window = 1;

const placeOf = (userId: UserId) => `second_factor:${userId}:secret`;

/** Makes a new secret that counts once a code has proven it; one that counts already stays until then. */
export async function beginSecondFactor(db: WithKeys, who: { readonly id: UserId; readonly email: string }) {
  const secret = new Secret({ size: 20 });
  await db.change(
    `INSERT INTO second_factor (user_id, secret) VALUES (:user, :secret)
     ON DUPLICATE KEY UPDATE secret = IF(proven_at IS NULL, VALUES(secret), secret)`,
    { user: bytesOf(who.id), secret: db.keys.seal(placeOf(who.id), new Uint8Array(secret.buffer)) },
  );
  const uri = totpOf(secret, who.email).toString();
  const picture = await QRCode.toString(uri, { type: 'svg', margin: 1 });
  return { secret: (secret.base32.match(/.{1,4}/g) ?? []).join(' '), uri, picture };
}

export async function hasSecondFactor(db: Queryable, userId: UserId): Promise<boolean> {
  const rows = await db.rows('SELECT 1 FROM second_factor WHERE user_id = :user AND proven_at IS NOT NULL', {
    user: bytesOf(userId),
  });
  return rows.length > 0;
}

/**
 * Whether a code is the app's of now, or one step beside it; each code counts once (RFC 6238, 5.2).
 * @param atMillis the real time, which the app has too
 */
export async function takeCode(
  db: WithKeys,
  userId: UserId,
  code: string,
  atMillis: number,
): Promise<boolean> {
  const [row] = await db.rows<Row<'second_factor', 'secret'>>(
    'SELECT secret FROM second_factor WHERE user_id = :user',
    { user: bytesOf(userId) },
  );
  if (!row) return false;
  const token = code.replace(/\s/g, '');
  const secret = new Secret({ buffer: Uint8Array.from(db.keys.open(placeOf(userId), row.secret)).buffer });
  const distance = totpOf(secret, '').validate({ token, window, timestamp: atMillis });
  if (distance === null) return false;
  const step = Math.floor(atMillis / 1000 / stepSeconds) + distance;
  const taken = await db.change(
    'UPDATE second_factor SET last_step = :step WHERE user_id = :user AND last_step < :step',
    { user: bytesOf(userId), step },
  );
  return taken > 0;
}

/** From now on the factor is asked for. */
export async function turnOn(db: Queryable, userId: UserId, now: string): Promise<void> {
  await db.change('UPDATE second_factor SET proven_at = :now WHERE user_id = :user', {
    user: bytesOf(userId),
    now: sqlInstant(now),
  });
}

export async function turnOff(db: Queryable, userId: UserId): Promise<void> {
  await db.change('DELETE FROM recovery_code WHERE user_id = :user', { user: bytesOf(userId) });
  await db.change('DELETE FROM second_factor WHERE user_id = :user', { user: bytesOf(userId) });
}

/** Without letters and digits that look alike. */
const letters = 'ABCDEFGHJKMNPQRSTUVWXYZ23456789';
const codeLength = 10;
const codeCount = 10;

/** New recovery codes in place of all there were: `ABCDE-FGH23`. Only their hashes are kept. */
export async function makeRecoveryCodes(db: WithKeys, userId: UserId): Promise<string[]> {
  const one = () => Array.from({ length: codeLength }, () => letters[randomInt(letters.length)]).join('');
  const codes = Array.from({ length: codeCount }, one);
  await db.change('DELETE FROM recovery_code WHERE user_id = :user', { user: bytesOf(userId) });
  const rows = await Promise.all(codes.map(async (code) => [bytesOf(userId), await hashOfCode(db, code)]));
  await db.change('INSERT INTO recovery_code (user_id, code_hash) VALUES :rows', { rows });
  return codes.map((code) => `${code.slice(0, 5)}-${code.slice(5)}`);
}

/** Uses a recovery code up, in any spelling. @returns whether there was one */
export async function takeRecoveryCode(db: WithKeys, userId: UserId, code: string): Promise<boolean> {
  const plain = code.toUpperCase().replace(/[^A-Z0-9]/g, '');
  if (plain.length !== codeLength) return false;
  const taken = await db.change('DELETE FROM recovery_code WHERE user_id = :user AND code_hash = :hash', {
    user: bytesOf(userId),
    hash: await hashOfCode(db, plain),
  });
  return taken > 0;
}

const hashOfCode = async (db: WithKeys, code: string) =>
  createHmac('sha256', await readSecret(db, 'recovery-codes'))
    .update(code)
    .digest();

export async function countRecoveryCodes(db: Queryable, userId: UserId): Promise<number> {
  const rows = await db.rows('SELECT 1 FROM recovery_code WHERE user_id = :user', { user: bytesOf(userId) });
  return rows.length;
}

/**
 * Seals with the first key of the key file what was sealed with another, or, before there was a file, with a key in the database.
 * @throws Error when something was sealed with a key that is not in the file
 */
export async function sealSecondFactors(db: WithKeys): Promise<void> {
  const rows = await db.rows<Row<'second_factor', 'user_id' | 'secret'>>(
    'SELECT user_id, secret FROM second_factor',
  );
  for (const { user_id, secret } of rows) {
    if (isSealed(secret) && db.keys.isFresh(secret)) continue;
    const place = placeOf(idOf(user_id));
    const open = isSealed(secret)
      ? db.keys.open(place, secret)
      : openOldForm(await readSecret(db, oldKey), secret);
    await db.change('UPDATE second_factor SET secret = :sealed WHERE user_id = :user AND secret = :secret', {
      ...{ user: user_id, secret },
      sealed: db.keys.seal(place, open),
    });
  }
  await db.change('DELETE FROM secret WHERE name = :oldKey', { oldKey });
}

const oldKey = 'second-factor';

/** Nonce, tag, text: how it lay before there was a key file. */
function openOldForm(key: Buffer, sealed: Buffer): Buffer {
  const decipher = createDecipheriv('aes-256-gcm', key, sealed.subarray(0, 12), { authTagLength: 16 });
  decipher.setAuthTag(sealed.subarray(12, 28));
  return Buffer.concat([decipher.update(sealed.subarray(28)), decipher.final()]);
}
