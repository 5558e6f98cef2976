import type { Spine } from '@kettle/contract';
import { besideEachOther } from '@kettle/core/calendar';

/** A stretch of the day, from 0 (the top) to 1 (the foot). */
interface Stretch {
  readonly top: number;
  readonly size: number;
}
/** Beside what it meets: which of how many columns. */
interface Beside extends Stretch {
  readonly column: number;
  readonly columns: number;
}

export interface DayLayout {
  readonly hours: readonly { readonly hour: number; readonly top: number }[];
  readonly blocks: readonly (Beside & {
    readonly id: string;
    readonly title: string;
    readonly detail: string;
    readonly isTight: boolean;
    /** It is in another calendar: it cannot be opened here. */
    readonly isOutside: boolean;
  })[];
  readonly promises: readonly (Beside & { readonly words: string })[];
  readonly gaps: readonly (Stretch & {
    readonly minutes: number;
    readonly startMinute: number;
    readonly isTight: boolean;
  })[];
  readonly now: number | null;
}

const hour = 60;
/** A stretch shorter than this share of the day has room for one line only. */
const tight = 0.055;

/**
 * Places a day between the full hours around its working time; what lies before or after is drawn at the edge.
 * @param minuteOf minutes after local midnight of an instant
 */
export function layOutDay(spine: Spine, now: string, minuteOf: (at: string) => number): DayLayout {
  const from = Math.floor(minuteOf(spine.dayStart) / hour) * hour;
  const to = Math.max(from + hour, Math.ceil(minuteOf(spine.dayEnd) / hour) * hour);
  const place = (minute: number) => Math.min(1, Math.max(0, (minute - from) / (to - from)));
  const stretch = (start: string, end: string): Stretch => {
    const top = place(minuteOf(start));
    return { top, size: Math.max(0.018, place(minuteOf(end)) - top) };
  };
  const hours = Array.from({ length: (to - from) / hour }, (_, index) => ({
    hour: from / hour + index,
    top: place(from + index * hour),
  }));
  const nowMinute = minuteOf(now);
  const blocks = spine.blocks.map((block) => {
    const way = Math.max(block.travelMinutes, block.travelAfterMinutes);
    const travel = way > 0 ? $localize`${way}:way: min drive` : '';
    const at = stretch(block.startsAt, block.endsAt);
    return {
      ...at,
      id: block.id,
      title: block.title,
      detail: [block.place, travel].filter(Boolean).join(' · '),
      isTight: at.size < tight,
      isOutside: block.isOutside,
    };
  });
  const promises = spine.promises.map((promise) => {
    const top = place(minuteOf(promise.at));
    return {
      top,
      size: Math.max(0.018, place(minuteOf(promise.at) + promise.minutes) - top),
      words: promise.words,
    };
  });
  const all = [...blocks, ...promises];
  const stretches = all.map(({ top, size }) => ({ from: top, to: top + size }));
  const beside = besideEachOther(stretches);
  const columnOf = (each: (typeof all)[number]) => beside.get(stretches[all.indexOf(each)]!)!;
  return {
    hours,
    blocks: blocks.map((block) => ({ ...block, ...columnOf(block) })),
    promises: promises.map((promise) => ({ ...promise, ...columnOf(promise) })),
    gaps: spine.gaps.map((gap) => {
      const at = stretch(gap.from, gap.to);
      return { ...at, minutes: gap.minutes, startMinute: minuteOf(gap.from), isTight: at.size < 0.03 };
    }),
    now: nowMinute >= from && nowMinute <= to ? place(nowMinute) : null,
  };
}
