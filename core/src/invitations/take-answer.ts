import type { Instant } from '@kettle/contract';
import type { InvitationAnswer } from './party';

/** What somebody answered, and to which sending of the invitation. */
export interface TakenAnswer {
  readonly answer: InvitationAnswer;
  readonly sequence: number;
  readonly at: Instant;
  /** Another time they would like instead. */
  readonly counter: { readonly startsAt: Instant; readonly endsAt: Instant } | null;
  readonly words: string | null;
}

/**
 * Whether an answer that comes in holds. One to a time that was changed since does not; of several the one that was written last does, in whatever
 * order they arrive (RFC 5546, 2.1.5: by SEQUENCE, then by DTSTAMP).
 * @param known what holds so far; null is nothing
 * @param asksSince the sending with which the time was set that is asked about now
 * @returns what holds from now on; `known` itself when the answer does not
 */
export function takeAnswer(
  known: TakenAnswer | null,
  answer: TakenAnswer,
  asksSince: number,
): TakenAnswer | null {
  if (answer.sequence < asksSince) return known;
  if (known === null || known.sequence < asksSince) return answer;
  if (answer.sequence !== known.sequence) return answer.sequence > known.sequence ? answer : known;
  return answer.at > known.at ? answer : known;
}
