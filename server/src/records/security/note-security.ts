import { createHmac } from 'node:crypto';
import { enqueue } from '../../platform/jobs/job-table';
import { readSecret } from '../../platform/database/secret';
import { sqlInstant } from '../../platform/database/values';
import type { Writing } from '../../platform/work/work';
import { bytesOf, newId } from '../../platform/ids';

/** What is kept of who did what to an account or with what it may do. */
export type SecurityKind =
  | 'signed-in'
  | 'sign-in-refused'
  | 'signed-out'
  | 'sessions-ended'
  | 'password-changed'
  | 'password-reset-asked'
  | 'link-sent'
  | 'second-factor-on'
  | 'second-factor-off'
  | 'recovery-code-used'
  | 'recovery-codes-made'
  | 'key-made'
  | 'key-withdrawn'
  | 'account-changed'
  | 'deactivated'
  | 'reactivated'
  | 'demo-accounts-removed'
  | 'settings-changed'
  | 'exported'
  | 'erased'
  | 'refused';

export interface NewSecurityEvent {
  readonly kind: SecurityKind;
  /** Who did it; null while nobody is signed in. */
  readonly userId: string | null;
  /** Whose account it was done to. */
  readonly aboutId?: string | null;
  /** Where from; only a keyed hash of it is kept. */
  readonly address?: string | undefined;
  /** Counts and names of settings; never a name, an address or what somebody typed. */
  readonly data?: Readonly<Record<string, string | number>>;
}

export const accountNoticeKind = 'account-notice';

/** What the owner of an account is told by mail, because somebody else may have done it. */
const toldKinds: ReadonlySet<SecurityKind> = new Set([
  'password-changed',
  'second-factor-on',
  'second-factor-off',
  'recovery-code-used',
  'recovery-codes-made',
  'key-made',
  'account-changed',
]);

/** Whether it is news to the owner; a first password by an invitation is their own doing. */
const isTold = ({ kind, data = {} }: NewSecurityEvent) =>
  (toldKinds.has(kind) && data.by !== 'invitation') || (kind === 'signed-in' && data.isNew === 1);

/** Writes into the log of security, which outlives accounts and holds no personal data but ids. */
export async function noteSecurity(w: Writing, event: NewSecurityEvent): Promise<void> {
  const { kind, userId, aboutId, address, data = {} } = event;
  const hash =
    address === undefined
      ? null
      : createHmac('sha256', await readSecret(w, 'security-log'))
          .update(address)
          .digest()
          .subarray(0, 16);
  const id = newId<string>();
  await w.change(
    `INSERT INTO security_event (id, at, kind, user_id, about_id, address_hash, data)
     VALUES (:id, :at, :kind, :user, :about, :address, :data)`,
    {
      id: bytesOf(id),
      at: sqlInstant(w.now),
      kind,
      user: bytesOf(userId),
      about: bytesOf(aboutId),
      address: hash,
      data: JSON.stringify(data),
    },
  );
  const ownerId = aboutId ?? userId;
  if (ownerId !== null && isTold(event))
    await enqueue(w, {
      kind: accountNoticeKind,
      dedupeKey: `${accountNoticeKind}:${id}`,
      payload: { userId: ownerId, kind, at: w.now, device: data.device ?? '' },
      dueAt: w.now,
    });
}
