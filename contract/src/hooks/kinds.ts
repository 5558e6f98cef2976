import type { ChangeTopic } from '../base/changes';
import type { EventKind } from '../changes/event-kinds';

interface HookEvent {
  readonly topic: ChangeTopic;
  readonly kind: EventKind;
  readonly words: string;
}

const said = (topic: ChangeTopic, kind: EventKind, words: string): HookEvent => ({ topic, kind, words });

/** What a web hook can be told of, by the name it goes by outside. */
export const hookEvents = {
  'contact.created': said('contact', 'created', $localize`a person was added`),
  'contact.changed': said('contact', 'changed', $localize`a person was changed`),
  'contact.standing-changed': said('contact', 'standing-changed', $localize`a person’s standing changed`),
  'contact.owner-changed': said('contact', 'owner-changed', $localize`a person has another owner`),
  'company.created': said('company', 'created', $localize`a company was added`),
  'company.changed': said('company', 'changed', $localize`a company was changed`),
  'company.owner-changed': said('company', 'owner-changed', $localize`a company has another owner`),
  'touch.logged': said('journal', 'touch-logged', $localize`a call, mail, meeting or text was logged`),
  'mail.arrived': said('mail', 'mail-arrived', $localize`a mail came in`),
  'task.created': said('task', 'created', $localize`a task was set`),
  'task.finished': said('task', 'task-finished', $localize`a task was done`),
  'task.dropped': said('task', 'task-dropped', $localize`a task was dropped`),
  'cadence.ended': said('run', 'cadence-ended', $localize`somebody’s cadence ended`),
  'appointment.created': said('appointment', 'created', $localize`an appointment was planned`),
  'appointment.changed': said('appointment', 'changed', $localize`an appointment was changed`),
  'lead.created': said('lead', 'created', $localize`a lead came in`),
  'lead.changed': said('lead', 'changed', $localize`a lead was changed`),
  'deal.created': said('deal', 'created', $localize`a deal was added`),
  'deal.changed': said('deal', 'changed', $localize`a deal was changed`),
  'deal.moved': said('deal', 'deal-moved', $localize`a deal went to another stage`),
  'deal.closed': said('deal', 'deal-closed', $localize`a deal was won, lost or parked`),
  'deal.reopened': said('deal', 'deal-reopened', $localize`a deal was opened again`),
  'deal.owner-changed': said('deal', 'owner-changed', $localize`a deal has another owner`),
  'agreement.created': said('agreement', 'created', $localize`an agreement was made`),
  'agreement.changed': said('agreement', 'changed', $localize`an agreement was changed`),
  'agreement.due': said('agreement', 'renewal-due', $localize`the lead day of an agreement came`),
} as const satisfies Record<string, HookEvent>;

export type HookEventName = keyof typeof hookEvents;
export const hookEventNames = Object.keys(hookEvents) as HookEventName[];

/** What is sent where a house rule says so. */
export const ruleEvent = 'rule.fired';

/** What is sent to try an address. */
export const tryEvent = 'ping';

/** How many addresses can be told. */
export const mostHooks = 20;
/** An address that failed for so many days on end is told no more. */
export const hookFailingDays = 5;
/** For so long the former secret signs too. */
export const formerSecretHours = 24;
/** Seconds until the next try, one after the other (Standard Webhooks, “Deliverability and reliability”). */
export const hookRetrySeconds = [
  ...[5, 5 * 60, 30 * 60, 2 * 3600, 5 * 3600],
  ...[10 * 3600, 14 * 3600, 20 * 3600, 24 * 3600],
] as const;
