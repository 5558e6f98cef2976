import { computed, type Signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { type AbstractControl, FormArray, FormControl, FormGroup, type ValidatorFn } from '@angular/forms';
import { switchMap } from 'rxjs';
import { Submission } from './submission';

type Controls = Record<string, AbstractControl>;

/**
 * The typed controls of a form, with its one way to the server. Its paths are those of the contract, so that what the server refuses stands
 * at the control it is about.
 * @example
 * readonly form = new RecordForm({ name: required(''), months: required(12) });
 * this.form.send(body, (sent) => this.api.call('createAgreement', { body: sent }), () => this.dialog.close());
 */
export class RecordForm<Each extends Controls = Controls> extends FormGroup<Each> {
  readonly submission = new Submission();

  /** Whether everything is filled in that must be; what is missing is marked. */
  isFilledIn(): boolean {
    this.markAllAsTouched();
    return this.valid || this.disabled;
  }

  /** Sends once everything is filled in that must be. */
  readonly send: Submission['send'] = (body, call, done) => {
    if (this.isFilledIn()) this.submission.send(body, call, done);
  };
}

/** A control that is never null by being reset. */
export const field = <Value>(value: Value): FormControl<Value> =>
  new FormControl(value, { nonNullable: true });

const filledIn: ValidatorFn = ({ value }) =>
  value === null || (typeof value === 'string' && value.trim() === '')
    ? { missing: $localize`is missing` }
    : null;

/** A control that must not be left empty; its field carries the mark. Empty it may be shown, but nothing is sent with it empty. */
export const required = <Value>(value: Value | null): FormControl<Value> =>
  new FormControl(value as Value, { nonNullable: true, validators: filledIn });

/** Makes a control one that must be filled in. */
export function demand(control: FormControl<string>): void {
  control.addValidators(filledIn);
  control.updateValueAndValidity();
}

export const isRequired = (control: AbstractControl | null): boolean =>
  control?.hasValidator(filledIn) === true;

/** Where a control stands in its form: `sites.0.name`. */
export function pathOf(control: AbstractControl): string {
  const { parent } = control;
  if (!parent) return '';
  const name =
    parent instanceof FormArray
      ? parent.controls.indexOf(control)
      : Object.entries(parent.controls as Controls).find(([, each]) => each === control)![0];
  const before = pathOf(parent);
  return before === '' ? String(name) : `${before}.${name}`;
}

/** What is wrong with a control, in words: what the server said of it, else what is missing once it was left or sent. */
export function wrongOf(control: Signal<AbstractControl | null>): Signal<string | null> {
  const changes = toSignal(toObservable(control).pipe(switchMap((each) => each?.events ?? [])), {
    equal: () => false,
  });
  return computed(() => {
    changes();
    const each = control();
    if (each === null) return null;
    const told = each.root instanceof RecordForm ? each.root.submission.problem()?.of(pathOf(each)) : null;
    // Validators here say what is wrong in words.
    const errors = (each.errors ?? {}) as Record<string, string>;
    const words = errors['unread'] ?? Object.values(errors)[0];
    return told ?? (each.touched ? (words ?? null) : null);
  });
}
