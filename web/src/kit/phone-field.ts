import {
  ChangeDetectionStrategy,
  Component,
  effect,
  ElementRef,
  inject,
  input,
  model,
  signal,
  viewChild,
} from '@angular/core';
import { CurrentUser } from '../services/current-user';
import { fieldParts } from './field';
import { PhoneWords } from './phone.pipe';
import { TypedField, typedField } from './typed-field';

/**
 * A telephone number as people write it; once it is left it stands with its country's code, so that the same number is meant wherever
 * it is read. Its value is `+441632960123`, or an empty text.
 * @example <kettle-phone-field label="Phone" [formControl]="form.controls.phone" [country]="form.controls.country.value" />
 */
@Component({
  selector: 'kettle-phone-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts],
  providers: [typedField(() => PhoneField)],
  template: `
    <mat-form-field>
      @if (label() !== '') {
        <mat-label>{{ label() }}</mat-label>
      }
      <input
        matInput
        #box
        type="tel"
        autocomplete="off"
        maxlength="40"
        [value]="text()"
        (input)="read(box.value)"
        (blur)="leave()"
        [required]="isRequired()"
        [disabled]="isDisabled()"
        [placeholder]="placeholder()"
        [attr.aria-label]="ariaLabel() || null"
        [kettleProblem]="wrong()"
      />
      @if (wrong(); as words) {
        <mat-error>{{ words }}</mat-error>
      } @else if (hint() !== '') {
        <mat-hint>{{ hint() }}</mat-hint>
      }
    </mat-form-field>
  `,
  styles: `
    :host {
      display: inline-grid;
    }
    input {
      font-variant-numeric: tabular-nums;
    }
  `,
})
export class PhoneField extends TypedField<string> {
  private readonly phones = inject(PhoneWords);
  private readonly user = inject(CurrentUser);
  protected readonly box = viewChild<ElementRef<HTMLInputElement>>('box');
  protected readonly empty = '';

  /** `+441632960123`, or an empty text. */
  readonly value = model('');
  /** Whose national numbers are meant: two letters; empty for the reader's own country. */
  readonly country = input('');
  protected readonly text = signal('');
  private isTyping = false;

  constructor() {
    super();
    // The rules may arrive after the number.
    effect(() => {
      const words = this.phones.write(this.value());
      if (!this.isTyping && this.value() !== '') this.text.set(words);
    });
  }

  protected read(text: string): void {
    this.isTyping = true;
    this.text.set(text);
    this.put(this.phones.read(text, this.home()) ?? '');
  }

  protected override leave(): void {
    this.isTyping = false;
    if (this.value() !== '') this.text.set(this.phones.write(this.value()));
    super.leave();
  }

  protected unread(): string {
    return $localize`must be a whole telephone number; from abroad with its country’s code, such as +44 1632 960123`;
  }

  protected show(value: string): void {
    this.isTyping = false;
    this.text.set(this.phones.write(value));
  }

  protected isUnreadable(text: string): boolean {
    return this.phones.read(text, this.home()) === null;
  }

  private home(): string {
    return this.country() || (this.user.person()?.country ?? 'GB');
  }
}
