import type {
  Channel,
  Direction,
  Instant,
  JournalKind,
  StandingGroup,
  TouchCount,
  TouchRule,
} from '@kettle/contract';
import { channelKinds, type ChannelKind } from '@kettle/contract/base/channels';

/** The part of a journal entry that touch facts are derived from. */
export interface TouchEntry {
  readonly at: Instant;
  readonly kind: JournalKind;
  readonly direction: Direction | null;
  readonly counts: TouchCount;
  /** Which outcome it had; null for entries that were not logged with one. */
  readonly outcomeId?: string | null;
}

export interface TouchFacts {
  readonly lastTouch: Pick<TouchEntry, 'at' | 'kind' | 'counts'> | null;
  readonly lastConversationAt: Instant | null;
  /** Their message that nobody has answered yet. */
  readonly waitingSince: Instant | null;
  /** Unanswered tries since the last conversation, by channel. */
  readonly attempts: ReadonlyMap<Channel, number>;
  /** All tries and conversations ever, by channel. */
  readonly answers: ReadonlyMap<Channel, { tried: number; answered: number }>;
}

/** Which tries keep a contact from going quiet, by the standing's group, and by standings that differ from it. */
export interface TouchPolicy {
  readonly groups: Readonly<Record<StandingGroup, TouchRule>>;
  readonly standings: Readonly<Record<string, TouchRule>>;
}

export const defaultTouchPolicy: TouchPolicy = {
  groups: { prospect: 'all', customer: 'none', former: 'none' },
  standings: {},
};

/** The rule that holds for a standing. */
export function touchRuleOf(
  standing: { readonly id: string; readonly group: StandingGroup },
  policy: TouchPolicy = defaultTouchPolicy,
): TouchRule {
  return policy.standings[standing.id] ?? policy.groups[standing.group];
}

/** Whether an entry counts as a touch: a conversation always, a try when the rule says so. */
export function isTouch(entry: Omit<TouchEntry, 'at'>, rule: TouchRule): boolean {
  if (entry.counts === 'conversation') return true;
  if (entry.counts === 'none' || rule === 'none') return false;
  return rule === 'all' || rule.includes(entry.outcomeId ?? '');
}

/**
 * Derives the touch facts of one contact from its journal, in any order; entries at one moment count in the order given.
 * A conversation starts the count of attempts again; a message from outside waits until something goes out after it.
 * @param before the facts of a journal that holds only earlier entries: what was known is carried on, and the journal not read again
 */
export function foldTouches(
  entries: readonly TouchEntry[],
  rule: TouchRule,
  before: TouchFacts = noTouches,
): TouchFacts {
  const inOrder = [...entries].sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : 0));
  const attempts = new Map(before.attempts);
  const answers = new Map(before.answers);
  let { lastTouch, lastConversationAt, waitingSince } = before;
  for (const entry of inOrder) {
    if (isTouch(entry, rule)) lastTouch = entry;
    if (entry.counts === 'none' || entry.kind === 'note' || entry.kind === 'system') continue;
    waitingSince = waitingAfter(entry, waitingSince);
    const answer = answers.get(entry.kind) ?? { tried: 0, answered: 0 };
    const answered = answer.answered + (entry.counts === 'conversation' ? 1 : 0);
    answers.set(entry.kind, { tried: answer.tried + 1, answered });
    if (entry.counts === 'conversation') {
      lastConversationAt = entry.at;
      attempts.clear();
    } else attempts.set(entry.kind, (attempts.get(entry.kind) ?? 0) + 1);
  }
  return { lastTouch, lastConversationAt, waitingSince, attempts, answers };
}

const noTouches: TouchFacts = {
  lastTouch: null,
  lastConversationAt: null,
  waitingSince: null,
  attempts: new Map(),
  answers: new Map(),
};

/** A written message from outside waits for an answer; a call that came in was answered on the spot. */
function waitingAfter(entry: TouchEntry, waitingSince: Instant | null): Instant | null {
  if (entry.direction !== 'in') return null;
  const kind: ChannelKind | undefined = (channelKinds as Readonly<Record<string, ChannelKind>>)[entry.kind];
  return kind?.isWritten === true ? (waitingSince ?? entry.at) : null;
}
