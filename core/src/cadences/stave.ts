import type { CadenceStep, Channel } from '@kettle/contract';

/** Steps after a change on the stave: in their order, and for each old step its new place (null when it is gone). */
export interface StaveChange {
  readonly steps: CadenceStep[];
  readonly places: readonly (number | null)[];
  /** Where the step that was changed, added or copied stands now. */
  readonly at: number;
}

/** The working day of each step, counted from the start: offsets added up. */
export function daysOfSteps(steps: readonly CadenceStep[]): number[] {
  let day = 0;
  return steps.map((step) => (day += step.offsetDays));
}

interface Placed {
  readonly step: CadenceStep;
  readonly day: number;
  readonly was: number | null;
}

const placed = (steps: readonly CadenceStep[]): Placed[] => {
  const days = daysOfSteps(steps);
  return steps.map((step, was) => ({ step, day: days[was]!, was }));
};

/** Puts notes in order of their days (equal days keep their order) and gives each its offset from the one before. */
function ordered(notes: readonly Placed[], isChanged: (note: Placed) => boolean, count: number): StaveChange {
  const sorted = [...notes].sort((a, b) => a.day - b.day);
  const steps = sorted.map(({ step, day }, index) => ({
    ...step,
    offsetDays: day - (sorted[index - 1]?.day ?? 0),
  }));
  const places = Array.from({ length: count }, (_, was) => {
    const at = sorted.findIndex((note) => note.was === was);
    return at < 0 ? null : at;
  });
  return { steps, places, at: sorted.findIndex(isChanged) };
}

/**
 * Moves one step to a working day (0 is the start) and a channel; all others keep their days. A step that can no longer go
 * by itself on its new channel is done by hand.
 */
export function moveNote(
  steps: readonly CadenceStep[],
  index: number,
  to: { readonly day: number; readonly channel: Channel },
): StaveChange {
  const day = Math.max(0, Math.min(250, Math.round(to.day)));
  const notes = placed(steps).map((note) =>
    note.was === index ? { ...note, day, step: onChannel(note.step, to.channel) } : note,
  );
  return ordered(notes, (note) => note.was === index, steps.length);
}

function onChannel(step: CadenceStep, channel: Channel): CadenceStep {
  if (step.channel === channel) return step;
  return {
    ...step,
    channel,
    mode: 'by-hand',
    templateIds: [],
    fallbackChannel: step.fallbackChannel === channel ? null : step.fallbackChannel,
  };
}

/** Adds a step like the one before it, on a day and a channel. */
export function addNote(
  steps: readonly CadenceStep[],
  step: CadenceStep,
  to: { readonly day: number; readonly channel: Channel },
): StaveChange {
  const added: Placed = { step: onChannel(step, to.channel), day: Math.max(0, to.day), was: null };
  return ordered([...placed(steps), added], (note) => note.was === null, steps.length);
}

/** The same step once more, a working day later. */
export function copyNote(steps: readonly CadenceStep[], index: number): StaveChange {
  const notes = placed(steps);
  const copy: Placed = { ...notes[index]!, day: notes[index]!.day + 1, was: null };
  return ordered([...notes, copy], (note) => note.was === null, steps.length);
}

export function removeNote(steps: readonly CadenceStep[], index: number): StaveChange {
  const left = placed(steps).filter((note) => note.was !== index);
  const change = ordered(left, () => false, steps.length);
  return { ...change, at: Math.min(index, change.steps.length - 1) };
}
