import type { MailKind, MailState } from './schemas';

/** What a mail that came in is, in words. */
export const mailKindLabel: Record<MailKind, string> = {
  human: $localize`written by a person`,
  automatic: $localize`automatic`,
  'out-of-office': $localize`absence`,
  bounce: $localize`return`,
  unsubscribe: $localize`opt-out`,
};

/** Where a mail stands, in words. */
export const mailStateLabel: Record<MailState, string> = {
  waiting: $localize`waiting to go`,
  'handing-over': $localize`being sent`,
  sent: $localize`sent`,
  failed: $localize`failed`,
  held: $localize`to decide`,
  withdrawn: $localize`withdrawn`,
  unfiled: $localize`to file`,
  filed: $localize`filed`,
  'let-go': $localize`dismissed`,
};
