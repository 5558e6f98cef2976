import type { SentLink, UserId } from '@kettle/contract';
import type { Queryable } from '../../platform/database/database';
import type { Row } from '../../platform/database/schema.generated';
import { sqlInstant } from '../../platform/database/values';
import { bytesOf, idOf } from '../../platform/ids';
import { Problem } from '../../platform/problem';
import { sendNotice } from '../../activity/outbox/index';
import type { Services } from '../../platform/services';
import { writingAt } from '../../platform/work/work';
import { noteSecurity } from '../../records/security/index';
import {
  assertGoodPassword,
  closeSessionsOf,
  hashOfToken,
  hashPassword,
  newToken,
} from '../../records/users/index';
import { readAccount } from './read-accounts';

export type LinkPurpose = 'invitation' | 'reset';

/** An invitation may lie over a week-end; a reset is meant for now. */
const hoursOf: Readonly<Record<LinkPurpose, number>> = { invitation: 7 * 24, reset: 2 };

/** Makes a link in place of any there was, and mails it. Where no mail leaves, the link is answered for somebody to hand on. */
export async function sendLink(services: Services, userId: UserId, purpose: LinkPurpose): Promise<SentLink> {
  const { database, clock, channels } = services;
  const account = await readAccount(database, userId);
  const { token, hash } = newToken();
  const expires = new Date(clock.millis() + hoursOf[purpose] * 3_600_000).toISOString();
  await database.transaction(async (tx) => {
    await tx.change('DELETE FROM account_link WHERE user_id = :user', { user: bytesOf(userId) });
    await tx.change(
      `INSERT INTO account_link (token_hash, user_id, purpose, created_at, expires_at)
       VALUES (:hash, :user, :purpose, :now, :expires)`,
      {
        hash,
        user: bytesOf(userId),
        purpose,
        now: sqlInstant(clock.now()),
        expires: sqlInstant(expires),
      },
    );
  });
  // The part after # never leaves the browser: no log on the way holds it.
  const link = `${channels.publicOrigin}/account#${token}`;
  const { subject, opening, end } = words[purpose];
  const text = $localize`Hello ${account.name}:name:,\n\n${opening}:opening:\n\n${link}:link:\n\n${end}:end:\n`;
  const isSent = await sendNotice(services, { to: account.email, subject, text });
  return isSent ? { account, sentTo: account.email, link: null } : { account, sentTo: null, link };
}

const words: Readonly<Record<LinkPurpose, { subject: string; opening: string; end: string }>> = {
  invitation: {
    subject: $localize`Your account for Ash Kettle`,
    opening: $localize`you can sign in to Ash Kettle. Choose your password here:`,
    end: $localize`The link is good for seven days and once.`,
  },
  reset: {
    subject: $localize`A new password for Ash Kettle`,
    opening: $localize`somebody, most likely you, asked for a new password. Choose it here:`,
    end: $localize`The link is good for two hours and once. If you did not ask for it, you need do nothing.`,
  },
};

interface KnownLink {
  readonly userId: UserId;
  readonly name: string;
  readonly email: string;
  readonly purpose: LinkPurpose;
}

/** @throws Problem `link-over` */
export async function readLink({ database, clock }: Services, token: string): Promise<KnownLink> {
  return findLink(database, token, clock.now());
}

async function findLink(db: Queryable, token: string, now: string): Promise<KnownLink> {
  const [row] = await db.rows<Row<'app_user', 'id' | 'name' | 'email'> & { purpose: LinkPurpose }>(
    `SELECT u.id, u.name, u.email, l.purpose FROM account_link l JOIN app_user u ON u.id = l.user_id
      WHERE l.token_hash = :hash AND l.expires_at > :now AND u.deactivated_at IS NULL`,
    { hash: hashOfToken(token), now: sqlInstant(now) },
  );
  if (!row) throw new Problem('link-over');
  return { userId: idOf(row.id), name: row.name, email: row.email, purpose: row.purpose };
}

/** Takes a new password by a link, once; whoever was signed in as its owner is no longer. @throws Problem `link-over` */
export async function choosePassword(
  { database, clock }: Services,
  asked: { readonly token: string; readonly password: string },
): Promise<void> {
  const { userId, ...owner } = await findLink(database, asked.token, clock.now());
  await assertGoodPassword(asked.password, owner);
  const hash = await hashPassword(asked.password);
  await database.transaction(async (tx) => {
    const used = await tx.change('DELETE FROM account_link WHERE token_hash = :hash', {
      hash: hashOfToken(asked.token),
    });
    if (used === 0) throw new Problem('link-over');
    await setPassword(tx, userId, hash);
    await closeSessionsOf(tx, userId, null);
    await noteSecurity(writingAt(tx, clock.now()), {
      kind: 'password-changed',
      userId,
      aboutId: userId,
      data: { by: owner.purpose },
    });
  });
}

/** Writes a password's hash; links that were sent before no longer count. */
export async function setPassword(db: Queryable, userId: UserId, hash: string): Promise<void> {
  await db.change('UPDATE app_user SET password_hash = :hash WHERE id = :id', { id: bytesOf(userId), hash });
  await db.change('DELETE FROM account_link WHERE user_id = :id', { id: bytesOf(userId) });
}

/** Mails a link to whoever has the address; nobody is told whether anybody does. */
export async function sendResetTo(services: Services, email: string, address: string): Promise<void> {
  const [row] = await services.database.rows<Row<'app_user', 'id' | 'password_hash'>>(
    'SELECT id, password_hash FROM app_user WHERE email = :email AND deactivated_at IS NULL',
    { email: email.toLowerCase() },
  );
  await noteSecurity(writingAt(services.database, services.clock.now()), {
    kind: 'password-reset-asked',
    userId: null,
    aboutId: row ? idOf<string>(row.id) : null,
    address,
  });
  if (row) await sendLink(services, idOf(row.id), row.password_hash === null ? 'invitation' : 'reset');
}
