import type { Channel, Outcome } from '@kettle/contract';
import { channelKindOf } from '@kettle/contract/base/channels';

type Row = [
  id: string,
  label: string,
  counts: Outcome['counts'],
  rule: Outcome['rule'],
  ends?: 'ends',
  direction?: 'in',
];

const rows: Record<Channel, Row[]> = {
  call: [
    ['call-spoke', 'Spoke', 'conversation', 'follow-up', 'ends'],
    ['call-no-answer', 'No answer', 'attempt', 'retry'],
    ['call-voicemail', 'Left a message', 'attempt', 'retry'],
    ['call-busy', 'Engaged', 'attempt', 'same-day'],
    ['call-later', 'Asked to call later', 'conversation', 'agree-new-date'],
    ['call-not-interested', 'Not interested', 'conversation', 'nothing', 'ends'],
    ['call-wrong-number', 'Wrong number', 'none', 'fix-details'],
    ['call-came-in', 'They called, we spoke', 'conversation', 'follow-up', 'ends', 'in'],
  ],
  email: [
    ['email-sent', 'Sent', 'attempt', 'await-answer'],
    ['email-came-in', 'They wrote', 'conversation', 'same-day', 'ends', 'in'],
    ['email-answered', 'Answered theirs', 'conversation', 'follow-up', 'ends'],
    ['email-bounced', 'Came back', 'none', 'fix-details'],
  ],
  text: [
    ['text-sent', 'Sent', 'attempt', 'await-answer'],
    ['text-came-in', 'They wrote', 'conversation', 'same-day', 'ends', 'in'],
  ],
  meeting: [
    ['meeting-held', 'Held', 'conversation', 'follow-up', 'ends'],
    ['meeting-missed', 'They missed it', 'attempt', 'same-day'],
    ['meeting-called-off', 'Called off', 'none', 'agree-new-date'],
  ],
  visit: [
    ['visit-held', 'Held', 'conversation', 'follow-up', 'ends'],
    ['visit-nobody', 'Nobody there', 'attempt', 'same-day'],
    ['visit-called-off', 'Called off', 'none', 'agree-new-date'],
  ],
  other: [
    ['other-done', 'Done', 'none', 'follow-up'],
    ['other-spoke', 'Done, and spoke', 'conversation', 'follow-up', 'ends'],
  ],
};

/** The outcomes an organisation starts with, in the order of their number keys within each kind. */
export const defaultOutcomes: readonly Outcome[] = Object.entries(rows).flatMap(([kind, list]) =>
  list.map(([id, label, counts, rule, ends, direction]) => ({
    id,
    kind: kind as Channel,
    direction: direction ?? 'out',
    label,
    counts,
    endsRun: ends === 'ends',
    rule,
    standingId: null,
  })),
);

export function outcomesOf(kind: Channel, outcomes: readonly Outcome[] = defaultOutcomes): Outcome[] {
  return outcomes.filter((outcome) => outcome.kind === kind);
}

export function findOutcome(id: string, outcomes: readonly Outcome[] = defaultOutcomes): Outcome | undefined {
  return outcomes.find((outcome) => outcome.id === id);
}

/** What is done at a meeting or visit that took place, ready to tick; each organisation writes its own. */
export const defaultChecklists: Partial<Record<Channel, readonly string[]>> = {
  meeting: ['asked what they need', 'showed the offer', 'named a price', 'met who decides'],
  visit: ['looked at the installation', 'took readings', 'asked what they need', 'met who decides'],
};

/** Kinds of act of which the first question is whether it took place. */
export const asksWhetherHeld = (kind: Channel): boolean => channelKindOf(kind).isMet === true;
