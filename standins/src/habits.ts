import { createHash } from 'node:crypto';

/** What a person does about a mail that reached them, and how long after, in minutes of their time. */
export type MailReaction = { readonly afterMinutes: number } & (
  | { readonly kind: 'open' }
  | { readonly kind: 'click' }
  | { readonly kind: 'answer'; readonly words: string }
  | { readonly kind: 'away'; readonly days: number }
  | { readonly kind: 'bounce' }
  | { readonly kind: 'unsubscribe' }
);

export type CallEnd = 'answered' | 'no-answer' | 'busy' | 'voicemail' | 'wrong-number';

/** How a call goes: rings, and then how long it lasts when somebody or something answers. */
export interface CallReaction {
  readonly end: CallEnd;
  readonly ringSeconds: number;
  readonly talkSeconds: number;
}

export interface TextReaction {
  readonly isDelivered: boolean;
  readonly afterMinutes: number;
  readonly answer: string | null;
}

/** Numbers that look drawn, and are the same for the same words and seed. */
export function drawsOf(seed: string, ...words: readonly string[]): () => number {
  let count = 0;
  return () => {
    const digest = createHash('sha256')
      .update([seed, ...words, String(count)].join('\0'))
      .digest();
    count += 1;
    return digest.readUInt32BE(0) / 2 ** 32;
  };
}

const answers = [
  'Thank you, that sounds right for us. Could you call me tomorrow morning?',
  'What would that cost for two lines?',
  'Not this month. Ask me again after the holidays, please.',
  'I have passed it on to my colleague who looks after the boiler.',
  'Yes, please send the test kit.',
];

const dayMinutes = 24 * 60;

/**
 * A person's habits come from their address: some addresses do not exist, some people are away just now, and of the rest
 * some read everything and some nothing. What they do about one mail is drawn from their habits and from how many they had before it, so that the
 * same campaign has the same answers each time.
 */
export function reactionsToMail(seed: string, address: string, mailsBefore: number): MailReaction[] {
  const habit = drawsOf(seed, 'habit', address.toLowerCase());
  if (habit() < 0.05) return [{ kind: 'bounce', afterMinutes: 1 }];
  if (habit() < 0.06) return [{ kind: 'away', afterMinutes: 1, days: 2 + Math.floor(habit() * 8) }];
  const attention = habit();
  const mail = drawsOf(seed, 'mail', address.toLowerCase(), String(mailsBefore));
  if (mail() > 0.35 + attention * 0.6) return [];
  const opens = 10 + mail() * dayMinutes;
  const reactions: MailReaction[] = [{ kind: 'open', afterMinutes: opens }];
  if (mail() < 0.25 * attention + 0.05) reactions.push({ kind: 'click', afterMinutes: opens + 1 });
  const choice = mail();
  const thinks = opens + 5 + mail() * 3 * 60;
  if (choice < 0.04) reactions.push({ kind: 'unsubscribe', afterMinutes: opens + 1 });
  else if (choice < 0.06 + 0.22 * attention)
    reactions.push({
      kind: 'answer',
      afterMinutes: thinks,
      words: answers[Math.floor(mail() * answers.length)]!,
    });
  return reactions;
}

/** What somebody does about an invitation, and how long after. */
export interface InvitationReaction {
  readonly afterMinutes: number;
  readonly answer: 'ACCEPTED' | 'DECLINED' | 'TENTATIVE' | 'counter';
}

/** Null does nothing. Whose address does not exist answers nothing, as with every mail. */
export function reactionToInvitation(seed: string, address: string, uid: string): InvitationReaction | null {
  const habit = drawsOf(seed, 'habit', address.toLowerCase());
  if (habit() < 0.05) return null;
  const mail = drawsOf(seed, 'invitation', address.toLowerCase(), uid);
  const afterMinutes = 5 + mail() * 4 * 60;
  const choice = mail();
  if (choice < 0.15) return null;
  if (choice < 0.7) return { afterMinutes, answer: 'ACCEPTED' };
  if (choice < 0.8) return { afterMinutes, answer: 'TENTATIVE' };
  return { afterMinutes, answer: choice < 0.9 ? 'DECLINED' : 'counter' };
}

export function reactionToCall(seed: string, number: string, callId: string): CallReaction {
  const habit = drawsOf(seed, 'phone', number);
  if (habit() < 0.03) return { end: 'wrong-number', ringSeconds: 6, talkSeconds: 10 };
  const reachable = habit();
  const call = drawsOf(seed, 'call', number, callId);
  const ringSeconds = 4 + Math.round(call() * 20);
  const choice = call();
  if (choice < 0.15 + 0.4 * reachable)
    return { end: 'answered', ringSeconds, talkSeconds: 30 + Math.round(call() * 400) };
  if (choice < 0.75) return { end: 'no-answer', ringSeconds: 30, talkSeconds: 0 };
  if (choice < 0.85) return { end: 'busy', ringSeconds: 2, talkSeconds: 0 };
  return { end: 'voicemail', ringSeconds: 20, talkSeconds: 25 };
}

export function reactionToText(seed: string, number: string, textId: string): TextReaction {
  const text = drawsOf(seed, 'text', number, textId);
  const isDelivered = text() > 0.04;
  const afterMinutes = 2 + text() * 180;
  const choice = text();
  const answer = choice < 0.02 ? 'STOP' : choice < 0.25 ? 'Thursday after ten is fine.' : null;
  return { isDelivered, afterMinutes, answer };
}
