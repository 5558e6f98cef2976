import type { CadenceDefinition, Channel, PlainDate, RunSign } from '@kettle/contract';
import { addDays, addWorkingDays, localDate } from '../time';
import { planStep, type PlanSetting } from './plan';
import { isActive, type Run, type RunEffect, type RunEvent, type Transition } from './run';

export interface RunSetting extends PlanSetting {
  readonly definition: CadenceDefinition;
}

/** Out of office without a date pauses for this many working days. */
const absenceDays = 5;

/** The first transition: a run at its first possible step, or finished at once when no step is possible. */
export function startRun(startOn: PlainDate, setting: RunSetting): Transition {
  const fresh: Run = {
    status: 'running',
    step: 0,
    nextOn: null,
    pausedUntil: null,
    exitReason: null,
    handled: [],
  };
  return goTo(fresh, 0, startOn, setting);
}

/**
 * Applies one event to a run: the new run and the effects to carry out. Pure: the same event applied twice changes
 * nothing, an event on a run that has ended is only noted, and every exit has a reason.
 */
export function advance(run: Run, event: RunEvent, setting: RunSetting): Transition {
  if (run.handled.includes(event.id)) return { run, effects: [] };
  const noted: Run = { ...run, handled: [...run.handled, event.id] };
  if (!isActive(run)) return { run: noted, effects: marksOf(event) };
  return applyTo(noted, event, setting);
}

function applyTo(run: Run, event: RunEvent, setting: RunSetting): Transition {
  const today = localDate(event.at, setting.contact.calendar.zone);
  switch (event.kind) {
    case 'step-done':
      if (event.step !== run.step) return { run, effects: [] };
      if (event.endsRun) return end(run, 'finished', event.words, []);
      return goTo(resumed(run), run.step + 1, today, touchedOn(setting, today));
    case 'step-skipped':
      if (event.step !== run.step) return { run, effects: [] };
      return withEffects([cancelTask(event.reason)], goTo(resumed(run), run.step + 1, today, setting));
    case 'sent':
      if (event.step !== run.step || run.status !== 'running') return { run, effects: [] };
      return goTo(run, run.step + 1, today, touchedOn(setting, today));
    case 'not-sent':
      if (event.step !== run.step || run.status !== 'running') return { run, effects: [] };
      return byHand(run, event.reason, today, setting);
    case 'sign':
      return passOver(run, event.sign, today, setting);
    case 'replied':
      return answered(run, event.channel, today, setting);
    case 'meeting-booked':
      return end(run, 'finished', $localize`a meeting is booked`, []);
    case 'deal-closed':
      return end(run, 'stopped', $localize`the deal was ${event.as}:as:`, []);
    case 'stopped':
      return end(run, 'stopped', event.reason, []);
    case 'unsubscribed':
      return end(run, 'stopped', $localize`unsubscribed from ${event.channel}:channel:`, marksOf(event));
    case 'bounced':
      if (run.status === 'paused') return { run, effects: marksOf(event) };
      return withEffects(
        [cancelTask($localize`the address bounced`), ...marksOf(event)],
        replan(run, today, unreachable(setting, event.channel)),
      );
    case 'out-of-office':
      return pause(
        run,
        event.until ? addDays(event.until, 1) : addWorkingDays(today, absenceDays, setting.contact.calendar),
        $localize`out of office`,
      );
    case 'paused':
      return pause(run, event.until, 'paused');
    case 'resumed':
      return run.status === 'paused' ? replan(resumed(run), today, setting) : { run, effects: [] };
    case 'contact-merged':
      if (event.isOnIt)
        return end(run, 'stopped', $localize`merged into ${event.into}:into:, who is on it already`, []);
      return run.status === 'paused'
        ? { run, effects: [] }
        : withEffects([cancelTask($localize`merged into ${event.into}:into:`)], replan(run, today, setting));
    case 'definition-moved':
      return moveTo(run, event, today, setting);
    case 'owner-changed':
      return {
        run,
        effects: [
          { kind: 'hand-over' },
          { kind: 'notify', words: $localize`${event.ownerName}:ownerName: takes this over.` },
        ],
      };
    default:
      return unreachableEvent(event);
  }
}

/** Plans step `index` counted from `completedOn`, passing over steps that are impossible; finishes after the last. */
function goTo(run: Run, index: number, completedOn: PlainDate, setting: RunSetting): Transition {
  const { steps } = setting.definition;
  for (let at = index; at < steps.length; at += 1) {
    const moment = planStep(steps[at]!, at, completedOn, setting);
    if (moment.kind === 'skipped') continue;
    const { on, channel, minutes } = moment;
    const step = steps[at]!;
    // A fallback channel has no template of its own: it is done by hand.
    const kind = step.mode === 'by-itself' && channel === step.channel ? 'send' : 'create-task';
    return {
      run: { ...run, step: at, nextOn: on },
      effects: [{ kind, step: at, channel, on, at: moment.at, minutes, purpose: step.purpose }],
    };
  }
  const reason = index === 0 ? $localize`no step is possible for this person` : $localize`all steps are done`;
  return {
    run: { ...run, status: 'finished', step: steps.length, nextOn: null, exitReason: reason },
    effects: [],
  };
}

/** An answer ends the run, or leads it to the step that is meant for it, if that is still ahead. */
function answered(run: Run, channel: Channel, today: PlainDate, setting: RunSetting): Transition {
  const to = setting.definition.answeredStep;
  const notice: RunEffect = { kind: 'notify', words: $localize`They replied.` };
  if (to === null || to <= run.step)
    return end(run, 'finished', $localize`replied by ${channel}:channel:`, [notice]);
  return withEffects([cancelTask($localize`they replied`), notice], goTo(resumed(run), to, today, setting));
}

/** A sign of life makes the waiting step needless, when the step says so. */
function passOver(run: Run, sign: RunSign, today: PlainDate, setting: RunSetting): Transition {
  const step = setting.definition.steps[run.step];
  if (run.status !== 'running' || !step?.skipWhen.includes(sign)) return { run, effects: [] };
  return withEffects([cancelTask(signWords[sign])], goTo(run, run.step + 1, today, setting));
}

const signWords: Readonly<Record<RunSign, string>> = {
  opened: $localize`they opened the mail`,
  clicked: $localize`they followed a link`,
  spoke: $localize`they were spoken to`,
};

/** The step becomes a task, so that a person does what could not be done alone. */
function byHand(run: Run, reason: string, today: PlainDate, setting: RunSetting): Transition {
  const steps = setting.definition.steps.map((step) => ({ ...step, mode: 'by-hand' as const }));
  const planned = replan(run, today, { ...setting, definition: { ...setting.definition, steps } });
  return withEffects(
    [cancelTask(reason), { kind: 'notify', words: $localize`The step waits for a hand: ${reason}:reason:` }],
    planned,
  );
}

function moveTo(
  run: Run,
  { mapping, definition }: Extract<RunEvent, { kind: 'definition-moved' }>,
  today: PlainDate,
  setting: RunSetting,
): Transition {
  const to = mapping[run.step] ?? null;
  if (to === null || to >= definition.steps.length)
    return end(run, 'stopped', $localize`the new version has no step to go on with`, []);
  const moved: Run = { ...run, step: to };
  if (run.status === 'paused') return { run: moved, effects: [] };
  return withEffects(
    [cancelTask($localize`the cadence has a new version`)],
    replan(moved, today, { ...setting, definition }),
  );
}

/** Plans the current step anew from today, without counting its offset again. */
function replan(run: Run, today: PlainDate, setting: RunSetting): Transition {
  const step = setting.definition.steps[run.step];
  if (!step) return end(run, 'finished', $localize`all steps are done`, []);
  const steps = setting.definition.steps.map((each, index) =>
    index === run.step ? { ...each, offsetDays: 0 } : each,
  );
  return goTo(run, run.step, today, { ...setting, definition: { ...setting.definition, steps } });
}

function pause(run: Run, until: PlainDate | null, reason: string): Transition {
  if (run.status === 'paused' && run.pausedUntil === until) return { run, effects: [] };
  return {
    run: { ...run, status: 'paused', pausedUntil: until, nextOn: null },
    effects: [cancelTask(reason)],
  };
}

function resumed(run: Run): Run {
  return { ...run, status: 'running', pausedUntil: null };
}

function end(
  run: Run,
  status: 'finished' | 'stopped',
  reason: string,
  effects: readonly RunEffect[],
): Transition {
  return {
    run: { ...run, status, nextOn: null, pausedUntil: null, exitReason: reason },
    effects: [cancelTask(reason), ...effects],
  };
}

/** Marks on the person hold for good, whether or not the run still goes on. */
function marksOf(event: RunEvent): RunEffect[] {
  if (event.kind === 'unsubscribed') return [{ kind: 'mark-do-not-contact', channel: event.channel }];
  if (event.kind === 'bounced') return [{ kind: 'mark-unusable', channel: event.channel }];
  return [];
}

/** The step just done is a touch of its day: no other falls on it. */
function touchedOn(setting: RunSetting, today: PlainDate): RunSetting {
  const person = new Set([...setting.taken.person, today]);
  return { ...setting, taken: { ...setting.taken, person } };
}

function unreachable(setting: RunSetting, channel: Channel): RunSetting {
  const contact = { ...setting.contact, unreachable: new Set([...setting.contact.unreachable, channel]) };
  return { ...setting, contact };
}

function cancelTask(reason: string): RunEffect {
  return { kind: 'cancel-task', reason };
}

function withEffects(first: readonly RunEffect[], transition: Transition): Transition {
  return { run: transition.run, effects: [...first, ...transition.effects] };
}

function unreachableEvent(event: never): never {
  throw new Error(`unknown run event ${JSON.stringify(event)}`);
}
