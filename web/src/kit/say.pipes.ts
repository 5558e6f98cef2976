import { inject, Pipe, type PipeTransform } from '@angular/core';
import { sayCount, sayPercent } from '@kettle/core/locale';
import { sayMoney } from '@kettle/core/money';
import { sayDate, sayDay, sayShortDay } from '@kettle/core/time';
import { CurrentUser } from '../services/current-user';

/** Minor units as money, of the organisation's currency unless another one is named. */
@Pipe({ name: 'money' })
export class MoneyPipe implements PipeTransform {
  private readonly user = inject(CurrentUser);
  transform(amountMinor: number, currency = this.user.currency()): string {
    return sayMoney(amountMinor, currency);
  }
}

/** How many of something, in the forms of `sayCount`. @example `{{ 2 | count: texts.tries }}` is "2 tries", where texts.tries is 'try|tries' */
@Pipe({ name: 'count' })
export class CountPipe implements PipeTransform {
  transform(count: number | null | undefined, forms: string): string {
    return sayCount(count ?? 0, forms);
  }
}

/** A share in per cent. @example `{{ 0.3 | share }}` is "30 %" */
@Pipe({ name: 'share' })
export class SharePipe implements PipeTransform {
  transform(share: number): string {
    return sayPercent(share);
  }
}

/** A date as "in 3 days · Thu 26 Nov", or shorter. */
@Pipe({ name: 'day' })
export class DayPipe implements PipeTransform {
  private readonly user = inject(CurrentUser);
  transform(date: string | null, how: 'full' | 'short' | 'date' = 'full'): string {
    if (date === null) return '—';
    const today = this.user.today();
    if (how === 'short') return sayShortDay(date, today);
    return how === 'date' ? sayDate(date, today) : sayDay(date, today);
  }
}

/** An instant as the reader's day and time, "Thu 19 Nov 14:05" or "today 14:05". */
@Pipe({ name: 'moment' })
export class MomentPipe implements PipeTransform {
  private readonly user = inject(CurrentUser);
  transform(at: string): string {
    const date = this.user.dateOf(at);
    const day = date === this.user.today() ? $localize`today` : sayDate(date, this.user.today());
    return `${day} ${this.user.timeOf(at)}`;
  }
}
