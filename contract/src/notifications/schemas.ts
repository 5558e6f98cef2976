import * as z from 'zod';
import { notificationId } from '../base/ids';
import { instant, minuteOfDay } from '../base/values';

/** What people are told of, each in its own way. */
export const noticeKinds = [
  'given',
  'changed',
  'answer',
  'mention',
  'time',
  'quiet',
  'renewal',
  'waking',
  'trouble',
  'release',
] as const;

export const noticeKind = z.enum(noticeKinds);

export type NoticeKind = z.infer<typeof noticeKind>;

export const notification = z.object({
  id: notificationId,
  words: z.string(),
  path: z.string(),
  at: instant,
  isRead: z.boolean(),
  /** Null of what was told before kinds were known. */
  kind: noticeKind.nullable(),
  /** Whether the browser tells it while the page is not looked at. */
  byBrowser: z.boolean(),
});

export type Notification = z.infer<typeof notification>;

export const notificationList = z.object({ notifications: z.array(notification), unread: z.int() });

/** How somebody is told of one kind of thing. */
export const toldChoice = z.object({
  kind: noticeKind,
  level: z.enum(['all', 'important', 'none']),
  byBrowser: z.boolean(),
  byMail: z.boolean(),
});

export type ToldChoice = z.infer<typeof toldChoice>;

export const toldSettings = z.object({
  /** One for each kind. */
  choices: z
    .array(toldChoice)
    .length(noticeKinds.length)
    .refine((choices) => new Set(choices.map(({ kind }) => kind)).size === choices.length, {
      message: $localize`has one line for each kind`,
    }),
  /** The minute of their day at which the morning's mail is sent; null: none is. */
  digestMinute: minuteOfDay.nullable(),
  /** Minutes of their day between which neither browser nor mail tells anything; over midnight where it begins later than it ends. */
  quietHours: z.object({ from: minuteOfDay, to: minuteOfDay }).nullable(),
});

export type ToldSettings = z.infer<typeof toldSettings>;
