import * as z from 'zod';
import { notificationId } from '../base/ids';
import { instant } from '../base/values';

export const notification = z.object({
  id: notificationId,
  words: z.string(),
  path: z.string(),
  at: instant,
  isRead: z.boolean(),
});

export type Notification = z.infer<typeof notification>;

export const notificationList = z.object({ notifications: z.array(notification), unread: z.int() });
