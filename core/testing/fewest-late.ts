export interface DeadlineJob {
  readonly key: string;
  readonly minutes: number;
  /** Working minutes from now until it must be finished. */
  readonly dueAfterMinutes: number;
}

/**
 * The smallest possible set of jobs that miss their deadlines when one pair of hands does all of them.
 * Moore 1968, "An n job, one machine sequencing algorithm for minimizing the number of late jobs".
 * @returns keys of the jobs that will be late, in the order they were given up.
 */
export function fewestLate(jobs: readonly DeadlineJob[]): string[] {
  const late: string[] = [];
  const kept: DeadlineJob[] = [];
  let total = 0;
  for (const job of [...jobs].sort(
    (a, b) => a.dueAfterMinutes - b.dueAfterMinutes || (a.key < b.key ? -1 : 1),
  )) {
    kept.push(job);
    total += job.minutes;
    if (total <= job.dueAfterMinutes) continue;
    const longest = kept.reduce((most, each) => (each.minutes > most.minutes ? each : most));
    kept.splice(kept.indexOf(longest), 1);
    total -= longest.minutes;
    late.push(longest.key);
  }
  return late;
}
