import { isMainThread, parentPort, Worker } from 'node:worker_threads';
import { levelStarts, nothingTaken, plan, previewLoad } from '@kettle/core/cadences';
import { addDays, addWorkingDays } from '@kettle/core/time';
import { Calendars, usualDaysOff, usualHours } from '../src/records/settings/calendars';
import { stoppedClock } from '../src/platform/clock';
import { steps } from './cadences';
import { print } from './measure';

const plannedRuns = 10_000;
const frameMillis = 1000 / 60;

/**
 * Planning and levelling 10,000 starts in a worker: how long the thread beside it was held up at most, against one frame of
 * a screen at 60 Hz.
 */
async function benchPlanning(): Promise<void> {
  const worker = new Worker(new URL(import.meta.url));
  let longest = 0;
  let last = performance.now();
  const beat = setInterval(() => {
    const now = performance.now();
    longest = Math.max(longest, now - last - 1);
    last = now;
  }, 1);
  const started = performance.now();
  await new Promise<void>((resolve, reject) => {
    worker.once('message', () => resolve());
    worker.once('error', reject);
  });
  const took = performance.now() - started;
  clearInterval(beat);
  await worker.terminate();
  print({
    name: 'longest hold-up beside a worker that plans and levels 10,000 runs, against a frame at 60 Hz',
    value: longest,
    unit: 'ms',
    baseline: frameMillis,
    ratio: longest / frameMillis,
    aim: 1,
    note: `the worker took ${Math.round(took)} ms`,
  });
}

/** What the worker does: every date of every run, the load of four weeks, and levelled starts. */
function planMany(): void {
  const now = '2026-11-24T09:00:00.000Z';
  const calendars = new Calendars(stoppedClock(now));
  const [theirs, ours] = [
    calendars.of({ country: 'PT', zone: 'Europe/Lisbon' }, usualDaysOff),
    calendars.of({ country: 'GB', zone: 'Europe/London', hours: usualHours }, usualDaysOff),
  ];
  const definition = { steps, answeredStep: null };
  const contact = { calendar: theirs, doNotContact: new Set<never>(), unreachable: new Set<never>() };
  const setting = { contact, rep: ours, taken: nothingTaken, now };
  for (let n = 0; n < plannedRuns; n += 1) plan(definition, '2026-11-24', setting);
  const days = [addWorkingDays('2026-11-24', 0, ours)];
  while (days.length < 20) days.push(addWorkingDays(addDays(days.at(-1)!, 1), 0, ours));
  const alive = [1, 0.9, 0.8, 0.7, 0.6, 0.5];
  const runs = Array.from({ length: plannedRuns }, (_, n) => ({
    definition,
    alive,
    step: n % steps.length,
    nextOn: days[n % days.length]!,
    calendar: ours,
  }));
  const load = previewLoad(runs, days);
  levelStarts({
    count: plannedRuns,
    pattern: [6, 5.4, 0, 4.8, 0, 4.2],
    load,
    capacity: days.map(() => 100 * plannedRuns),
    days: 20,
  });
}

if (isMainThread) await benchPlanning();
else {
  planMany();
  parentPort?.postMessage('done');
}
