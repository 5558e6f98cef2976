import { inject, Injectable, Pipe, signal, type PipeTransform } from '@angular/core';
import type * as Phone from '@kettle/core/phone';
import { CurrentUser } from '../services/current-user';

/** Telephone numbers in words; the rules of all countries are fetched with the first number that is shown. */
@Injectable({ providedIn: 'root' })
export class PhoneWords {
  private readonly user = inject(CurrentUser);
  private readonly rules = signal<typeof Phone | null>(null);

  constructor() {
    void import('@kettle/core/phone').then((phone) => this.rules.set(phone));
  }

  /** For reading: at home as it is dialled there. Until the rules are here the number stands as it is kept. */
  say(number: string): string {
    return this.rules()?.sayPhone(number, this.user.person()?.country ?? null) ?? number;
  }

  /** For a field: with the country's code, so that it is read back as the same number wherever its owner is. */
  write(number: string): string {
    return this.rules()?.sayPhone(number, null) ?? number;
  }

  /** What was typed as it is kept, `+441632960123`; null when it is no number. Without the rules it is left to the server. */
  read(typed: string, country: string): string | null {
    const rules = this.rules();
    return rules === null ? typed.trim() : (rules.readPhone(typed, country)?.e164 ?? null);
  }
}

/** A telephone number as the reader's country writes it. @example `{{ '+441632960123' | phone }}` is "01632 960123" in Britain */
// Not pure: the rules arrive after the first number has been shown.
@Pipe({ name: 'phone', pure: false })
export class PhonePipe implements PipeTransform {
  private readonly words = inject(PhoneWords);
  transform(number: string): string {
    return this.words.say(number);
  }
}
