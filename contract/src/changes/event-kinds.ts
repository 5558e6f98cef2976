/**
 * What an event says happened. The first four are said of every record; the others have a meaning of their own for notifications, rules and
 * reports, and carry from and to where something went from one to another.
 */
export const eventKinds = [
  'noted',
  'created',
  'changed',
  'removed',
  'touch-logged',
  'task-finished',
  'task-dropped',
  'deal-moved',
  'deal-closed',
  'deal-reopened',
  'standing-changed',
  'owner-changed',
  'lead-added',
  'lead-status-said',
  'mail-arrived',
  'agreement-made',
  'renewal-due',
  'cadence-ended',
  'rule-fired',
  'contacts-merged',
  'undone',
] as const;

export type EventKind = (typeof eventKinds)[number];
