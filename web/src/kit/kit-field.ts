import {
  booleanAttribute,
  computed,
  Directive,
  forwardRef,
  inject,
  Injector,
  input,
  type ModelSignal,
  type OnInit,
  type Provider,
  type Signal,
  signal,
  type Type,
} from '@angular/core';
import {
  type AbstractControl,
  type ControlValueAccessor,
  NG_VALUE_ACCESSOR,
  NgControl,
} from '@angular/forms';
import { isRequired, wrongOf } from './record-form';

/** What makes a field a control of a form. */
export const kitField = (field: () => Type<unknown>): Provider => ({
  provide: NG_VALUE_ACCESSOR,
  useExisting: forwardRef(field),
  multi: true,
});

/** What every field has: a name, what is wrong with it, whether it must be filled in, and a value that a form or its surroundings hold. */
@Directive()
export abstract class KitField<Value> implements ControlValueAccessor, OnInit {
  private readonly injector = inject(Injector);
  readonly label = input('');
  /** Its name where there is no room for a label. */
  readonly ariaLabel = input('');
  readonly placeholder = input('');
  readonly hint = input('');
  readonly required = input(false, { transform: booleanAttribute });
  /** The same of what is learned once the form is made. */
  readonly needed = input(false);
  /** It has the focus when its dialog opens. */
  readonly startsHere = input(false, { transform: booleanAttribute });
  /** What is wrong with it, where no form holds it. */
  readonly problem = input<string | null | undefined>(null);
  abstract readonly value: ModelSignal<Value>;
  protected abstract readonly empty: Value;

  private readonly isOff = signal(false);
  protected readonly isDisabled = this.isOff.asReadonly();
  private readonly control = signal<AbstractControl | null>(null);
  protected readonly isRequired = computed(
    () => this.required() || this.needed() || isRequired(this.control()),
  );
  private readonly told = wrongOf(this.control);
  protected readonly refused = computed(() => this.problem() || this.told());
  protected readonly wrong: Signal<string | null> = this.refused;
  private changed: (value: Value) => void = () => undefined;
  private left: () => void = () => undefined;

  ngOnInit(): void {
    // Asked for late: the control asks for the field first.
    const control = this.injector.get(NgControl, null, { self: true, optional: true })?.control;
    this.control.set(control ?? null);
  }

  /** A value from the person. */
  protected put(value: Value): void {
    if (value === this.value()) return;
    this.value.set(value);
    this.changed(value);
  }

  protected leave(): void {
    this.left();
  }

  writeValue(value: Value | null): void {
    this.value.set(value ?? this.empty);
  }
  registerOnChange(changed: (value: Value) => void): void {
    this.changed = changed;
  }
  registerOnTouched(left: () => void): void {
    this.left = left;
  }
  setDisabledState(isDisabled: boolean): void {
    this.isOff.set(isDisabled);
  }
}
