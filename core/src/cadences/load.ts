import type { CadenceDefinition, PlainDate } from '@kettle/contract';
import { addWorkingDays, type WorkingCalendar } from '../time';

/** A run as far as its load is concerned; `nextOn` is when the step it stands at is planned. */
export interface LoadRun {
  readonly definition: CadenceDefinition;
  readonly step: number;
  readonly nextOn: PlainDate;
  readonly calendar: WorkingCalendar;
  /** For each step the share of earlier runs that came as far, 0 to 1, never growing; see `aliveOf`. */
  readonly alive: readonly number[];
}

/**
 * Expected minutes by hand on each of the days given (in order): each later step counts with the chance that the run is
 * still alive then. Steps that go by themselves cost nothing. A late step counts on the first day.
 */
export function previewLoad(runs: readonly LoadRun[], days: readonly PlainDate[]): number[] {
  const places = new Map(days.map((day, index) => [day, index]));
  const minutes = days.map(() => 0);
  const first = days[0];
  const last = days.at(-1);
  if (first === undefined || last === undefined) return minutes;
  for (const run of runs) {
    let on = run.nextOn < first ? first : run.nextOn;
    const { steps } = run.definition;
    for (let step = run.step; step < steps.length; step += 1) {
      if (step > run.step) on = addWorkingDays(on, Math.max(1, steps[step]!.offsetDays), run.calendar);
      if (on > last) break;
      const place = places.get(on);
      if (place !== undefined && steps[step]!.mode === 'by-hand')
        minutes[place]! += steps[step]!.minutes * stillAlive(run, step);
    }
  }
  return minutes;
}

function stillAlive({ alive, step: from }: LoadRun, step: number): number {
  const now = alive[from] ?? 0;
  return now === 0 ? 1 : (alive[step] ?? 0) / now;
}

/** How much a cadence without a history is expected to lose from step to step; common practice, no source. */
const usualLoss = 0.08;
/** Runs that the usual loss is worth beside what was measured. */
const usualRuns = 10;

/**
 * For each step of a cadence the chance that a run which started comes as far, from how many did: `reached[k]` of
 * `reached[0]` runs. With few runs it stays near the usual loss of 8 % a step.
 */
export function aliveOf(reached: readonly number[], steps: number): number[] {
  let alive = 1;
  return Array.from({ length: steps }, (_, step) => {
    if (step === 0) return 1;
    const before = reached[step - 1] ?? 0;
    const came = Math.min(before, reached[step] ?? 0);
    alive *= (came + usualRuns * (1 - usualLoss)) / (before + usualRuns);
    return alive;
  });
}
