import type { Instant, PlainDate } from '@kettle/contract';
import { localDate } from '@kettle/core/time';
import type { Services } from '../../platform/services';

/** When something is read: what is planned goes by the reader's day, what stalls by the day of whoever owns it. */
export interface ReadAt {
  readonly today: PlainDate;
  readonly now: Instant;
}

export const readAt = (services: Services, who: { readonly zone: string }): ReadAt => ({
  today: todayOf(services, who),
  now: services.clock.now(),
});

/** Today's date on the wall of the person who asks. */
export function todayOf({ clock }: Services, who: { readonly zone: string }): string {
  return localDate(clock.now(), who.zone);
}
