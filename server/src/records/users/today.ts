import { localDate } from '@kettle/core/time';
import type { Services } from '../../platform/services';

/** Today's date on the wall of the person who asks. */
export function todayOf({ clock }: Services, who: { readonly zone: string }): string {
  return localDate(clock.now(), who.zone);
}
