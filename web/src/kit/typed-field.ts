import {
  computed,
  Directive,
  effect,
  type ElementRef,
  forwardRef,
  type Provider,
  signal,
  type Signal,
  type Type,
} from '@angular/core';
import { NG_VALIDATORS, type Validator } from '@angular/forms';
import { KitField, kitField } from './kit-field';

/** What makes a typed field a control of a form, which is wrong while it cannot be read. */
export const typedField = (field: () => Type<unknown>): Provider[] => [
  kitField(field),
  { provide: NG_VALIDATORS, useExisting: forwardRef(field), multi: true },
];

/**
 * A field whose value is read from what is typed, as people write it: a day, a time, an amount. While it cannot be read its value is empty;
 * once it is left, it says how to write it, and what was typed stays.
 */
@Directive()
export abstract class TypedField<Value> extends KitField<Value> implements Validator {
  protected abstract readonly box: Signal<ElementRef<HTMLInputElement> | undefined>;
  /** How to write it, for what cannot be read. */
  protected abstract unread(): string;
  /** A value from outside, to be shown; never one that was read here, so that typing is not written over. */
  protected abstract show(value: Value): void;
  protected abstract isUnreadable(text: string): boolean;

  private readonly isUnread = signal(false);
  protected override readonly wrong = computed(() => (this.isUnread() ? this.unread() : this.refused()));
  private lastRead: Value | undefined;
  private checkAgain: () => void = () => undefined;

  constructor() {
    super();
    effect(() => {
      const value = this.value();
      if (value === (this.lastRead ?? this.empty)) return;
      this.lastRead = value;
      this.show(value);
    });
  }

  /** What was read from what is typed. */
  protected override put(value: Value): void {
    this.lastRead = value;
    super.put(value);
    this.retype();
  }

  /** Nothing and what cannot be read are the same value, and not the same to the form. */
  protected retype(): void {
    this.isUnread.set(false);
    this.checkAgain();
  }

  /** Only now what is typed is said to be wrong: nobody is told off while typing. */
  protected override leave(): void {
    this.isUnread.set(this.isWrongNow());
    super.leave();
    this.checkAgain();
  }

  private isWrongNow(): boolean {
    const text = this.box()?.nativeElement.value ?? '';
    return text.trim() !== '' && this.isUnreadable(text);
  }

  override writeValue(value: Value | null): void {
    super.writeValue(value);
    this.isUnread.set(false);
  }
  registerOnValidatorChange(checkAgain: () => void): void {
    this.checkAgain = checkAgain;
  }
  validate(): Record<string, string> | null {
    return this.isWrongNow() ? { unread: this.unread() } : null;
  }
  focus(): void {
    this.box()?.nativeElement.focus();
  }
}
