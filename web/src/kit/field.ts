import { Directive, effect, inject, input } from '@angular/core';
import { ErrorStateMatcher } from '@angular/material/core';
import { MatFormField, MatFormFieldControl, MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule, type MatInput } from '@angular/material/input';
import type { MatSelect } from '@angular/material/select';

/** The look of every field: a hairline box, its name above. A token at the root would bring the parts into the first load. */
@Directive({ selector: 'mat-form-field' })
export class FieldLook {
  constructor() {
    const field = inject(MatFormField);
    field.appearance = 'outline';
    field.subscriptSizing = 'dynamic';
    field.floatLabel = 'always';
  }
}

/**
 * What is wrong with a field, in words: the box is marked and the screen reader told; the words stand in a `mat-error` beside it.
 * @example <input matInput [kettleProblem]="problem()?.of('email')" />
 */
@Directive({ selector: '[matInput][kettleProblem], mat-select[kettleProblem]' })
export class FieldProblem {
  readonly kettleProblem = input.required<string | null | undefined>();

  constructor() {
    const control = inject(MatFormFieldControl) as MatInput | MatSelect;
    const usual = inject(ErrorStateMatcher);
    control.errorStateMatcher = {
      isErrorState: (each, form) => !!this.kettleProblem() || usual.isErrorState(each, form),
    };
    effect(() => {
      this.kettleProblem();
      control.updateErrorState();
    });
  }
}

/** A field that is typed into. */
export const fieldParts = [MatFormFieldModule, MatInputModule, FieldLook, FieldProblem] as const;
