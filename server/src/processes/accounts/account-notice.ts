import type { UserId } from '@kettle/contract';
import * as z from 'zod';
import { sendNotice } from '../../activity/outbox/index';
import type { JobKind } from '../../platform/jobs/worker';
import type { Services } from '../../platform/services';
import { readPerson } from '../../records/users/index';

const ofNotice = z.object({ userId: z.uuid(), kind: z.string(), at: z.string(), device: z.coerce.string() });

const words: Readonly<Record<string, string>> = {
  'password-changed': $localize`your password was changed`,
  'second-factor-on': $localize`a second factor was set up for your account`,
  'second-factor-off': $localize`the second factor of your account was switched off`,
  'recovery-code-used': $localize`you signed in with one of your recovery codes`,
  'recovery-codes-made': $localize`new recovery codes were made for your account; the old ones no longer count`,
  'key-made': $localize`an API key was made, with which a program asks in your name`,
  'account-changed': $localize`an admin changed your account: its name, address, role or manager`,
};

/** Tells the owner of an account by mail what somebody else may have done. Where no mail leaves, nobody is told. */
export const accountNoticeJob = (services: Services): JobKind => ({
  words: $localize`telling somebody what was done to their account`,
  effect: 'guarded',
  run: async (payload) => {
    if (services.channels.mailOut === null) return;
    const { userId, kind, at, device } = ofNotice.parse(payload);
    const person = await readPerson(services.database, userId as UserId);
    const what =
      words[kind] ?? $localize`you signed in from a browser that was not seen before: ${device}:device:`;
    const when = `${at.slice(0, 10)} ${at.slice(11, 16)} UTC`;
    const isSent = await sendNotice(services, {
      to: person.email,
      subject: $localize`Your account for Ash Kettle`,
      text: $localize`Hello ${person.name}:name:,\n\n${what}:what: (${when}:when:).\n\nIf it was you, or an admin told you, you need do nothing. If not, choose a new password at ${services.channels.publicOrigin}:publicOrigin: under Settings, My account, which ends all other sessions, and tell an admin.\n`,
    });
    if (!isSent) throw new Error('the notice did not leave');
  },
});
