import type { PlainDate, TetherState } from '@kettle/contract';
import { channelKindOf, channelKinds, type ChannelName } from '@kettle/contract/base/channels';
import { formOf, numberFormat } from '../locale';
import { daysBetween, sayDate, sayDistance } from '../time';

export interface TetherMarks {
  /** Position of the last touch from 0 (120 days ago or more) to 0.5 (today); null when there was none. */
  readonly lastTouch: number | null;
  /** Position of the next step from 0 to 1, below 0.5 when it is late; null when there is none. */
  readonly nextStep: number | null;
  readonly state: TetherState;
}

/** Beyond this many days a mark stays at its end of the strip. */
export const clippedDays = 120;

/**
 * Where the marks of a tether stand, log-scaled so that the days close to today have room.
 * @param touchDaysAgo days since the last counting touch, 0 = today
 * @param stepInDays days to the next step, negative when it is overdue
 * @example tetherMarks(0, 0) is { lastTouch: 0.5, nextStep: 0.5, state: 'today' }
 */
export function tetherMarks(touchDaysAgo: number | null, stepInDays: number | null): TetherMarks {
  return {
    lastTouch: touchDaysAgo === null ? null : 0.5 - reach(Math.max(0, touchDaysAgo)),
    nextStep: stepInDays === null ? null : 0.5 + Math.sign(stepInDays) * reach(Math.abs(stepInDays)),
    state: stateOf(stepInDays),
  };
}

function stateOf(stepInDays: number | null): TetherState {
  if (stepInDays === null) return 'loose';
  if (stepInDays < 0) return 'late';
  return stepInDays === 0 ? 'today' : 'held';
}

/** 0 for today up to 0.5 for the clipped end. */
function reach(days: number): number {
  return (0.5 * Math.log1p(Math.min(days, clippedDays))) / Math.log1p(clippedDays);
}

export interface TetherWords {
  readonly lastTouchOn: PlainDate | null;
  readonly lastTouchBy: string | null;
  readonly isConversation: boolean;
  readonly nextStepOn: PlainDate | null;
  readonly nextStepBy: string | null;
  /** Local `14:05`, where the step was promised for a time. */
  readonly nextStepTime?: string;
  readonly today: PlainDate;
}

/** The tether in words: "last spoke 12 days ago by phone; next: call in 3 days". */
export function sayTether({
  lastTouchOn,
  lastTouchBy,
  isConversation,
  nextStepOn,
  nextStepBy,
  nextStepTime,
  today,
}: TetherWords): string {
  const by = byWords(lastTouchBy);
  const ago = lastTouchOn === null ? '' : sayDistance(daysBetween(today, lastTouchOn));
  const last =
    lastTouchOn === null
      ? $localize`never touched`
      : isConversation
        ? $localize`last spoke ${ago}:ago: by ${by}:channel:`
        : $localize`last tried ${ago}:ago: by ${by}:channel:`;
  if (nextStepOn === null) return $localize`${last}:last:; no next step`;
  const step = nextStepBy === null ? $localize`step` : stepWord(nextStepBy);
  const when = sayWhen(nextStepOn, today);
  return nextStepTime === undefined
    ? $localize`${last}:last:; next: ${step}:channel: ${when}:when:`
    : $localize`${last}:last:; next: ${step}:channel: ${when}:when: at ${nextStepTime}:time:`;
}

function sayWhen(on: PlainDate, today: PlainDate): string {
  const days = daysBetween(today, on);
  if (days >= 0) return sayDistance(days);
  const count = numberFormat().format(-days);
  const since = sayDate(on, today);
  return formOf(
    -days,
    $localize`${count}:count: day late, since ${since}:since:|${count}:count: days late, since ${since}:since:`,
  );
}

/** What a touch went by. */
const byWords = (kind: string | null): string =>
  kind === 'call' ? $localize`phone` : kind === null ? $localize`hand` : stepWord(kind);

/** A channel in the middle of a sentence. */
const stepWord = (kind: string): string =>
  kind in channelKinds ? channelKindOf(kind as ChannelName).label.toLowerCase() : kind;
