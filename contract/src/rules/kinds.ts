import type { HookEventName } from '../hooks/kinds';

/** What a house rule is about. */
export const ruleSubjects = ['contact', 'deal', 'lead', 'agreement'] as const;
export type RuleSubject = (typeof ruleSubjects)[number];

export const ruleSubjectLabel: Record<RuleSubject, string> = {
  contact: $localize`a person`,
  deal: $localize`a deal`,
  lead: $localize`a lead`,
  agreement: $localize`an agreement`,
};

/** What a rule about each can wait for. */
export const ruleEvents: Record<RuleSubject, readonly HookEventName[]> = {
  contact: [
    ...(['contact.created', 'contact.changed', 'contact.standing-changed', 'contact.owner-changed'] as const),
    ...(['touch.logged', 'mail.arrived', 'task.finished', 'cadence.ended', 'appointment.created'] as const),
  ],
  deal: [
    ...(['deal.created', 'deal.changed', 'deal.moved', 'deal.closed', 'deal.reopened'] as const),
    ...(['deal.owner-changed', 'touch.logged', 'task.finished'] as const),
  ],
  lead: ['lead.created', 'lead.changed'],
  agreement: ['agreement.created', 'agreement.changed', 'agreement.due'],
};

/** Events that go to something: a stage, a standing, a colleague, a way to end. A rule may wait for some of these alone. */
export const eventsThatGo = {
  'contact.standing-changed': 'standing',
  'contact.owner-changed': 'user',
  'deal.owner-changed': 'user',
  'deal.moved': 'stage',
  'deal.closed': 'closing',
  'touch.logged': 'outcome',
} as const satisfies Partial<Record<HookEventName, string>>;

/** Dates of a record that a rule can count from. */
export const ruleDates = {
  contact: {},
  deal: {
    close: $localize`the expected close`,
    decision: $localize`the day of decision`,
    wake: $localize`the wake date`,
  },
  lead: { 'follow-up': $localize`the follow-up`, wake: $localize`the wake date` },
  agreement: {
    starts: $localize`the start of the term`,
    lead: $localize`the lead day`,
    notice: $localize`the last day to give notice`,
    ends: $localize`the end of the term`,
  },
} as const satisfies Record<RuleSubject, Readonly<Record<string, string>>>;

export const ruleActKinds = [
  ...(['task', 'deal', 'field', 'stage', 'standing', 'owner', 'tag', 'start-cadence'] as const),
  ...(['stop-cadences', 'notify', 'write', 'mail', 'text', 'hook', 'renewal'] as const),
] as const;
export type RuleActKind = (typeof ruleActKinds)[number];

const ofAll = [
  ...(['task', 'standing', 'owner', 'tag', 'start-cadence', 'stop-cadences'] as const),
  ...(['notify', 'write', 'mail', 'text', 'hook'] as const),
] as const;

/** What a rule about each can do. What is a person's is done to the person it is about. */
export const ruleActs: Record<RuleSubject, readonly RuleActKind[]> = {
  contact: [...ofAll, 'deal', 'field'],
  deal: [...ofAll, 'field', 'stage'],
  lead: [...ofAll, 'field'],
  agreement: [...ofAll, 'deal', 'field', 'renewal'],
};

/** What a rule can set of an agreement. */
export const agreementSettings = {
  noticeDays: $localize`notice, days before the end`,
  leadDays: $localize`talk, days before the last day for notice`,
  checkInMonths: $localize`check-in, months`,
  renewsItself: $localize`renews itself`,
} as const;
export type AgreementSetting = keyof typeof agreementSettings;

/** How far rules may set each other off, one after the other. */
export const longestChain = 5;
export const mostRules = 200;
/** How far back a rule is tried out. */
export const trialDays = 90;
