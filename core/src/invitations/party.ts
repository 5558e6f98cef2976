/** What somebody said to an invitation; `none` is nothing yet. */
export type InvitationAnswer = 'none' | 'accepted' | 'declined' | 'tentative';

export interface Party {
  readonly name: string;
  /** As in the mail, in lower case. */
  readonly email: string;
}

/** Words of PARTSTAT (RFC 5545, 3.2.12); whoever handed it on has not answered. */
export const partStats = {
  none: 'NEEDS-ACTION',
  accepted: 'ACCEPTED',
  declined: 'DECLINED',
  tentative: 'TENTATIVE',
} as const satisfies Record<InvitationAnswer, string>;

export const answerOf = (partStat: string | null | undefined): InvitationAnswer => {
  const found = Object.entries(partStats).find(([, word]) => word === partStat?.toUpperCase());
  return (found?.[0] ?? 'none') as InvitationAnswer;
};
