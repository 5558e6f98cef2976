import { Directive, inject } from '@angular/core';
import { MatSelect, MatSelectModule } from '@angular/material/select';
import { fieldParts } from './field';

/** "As it is" or "nobody" is a choice that is shown as any other, also where its value is null. */
@Directive({ selector: 'mat-select' })
export class ShowsNothing {
  constructor() {
    inject(MatSelect).canSelectNullableOptions = true;
  }
}

/** A field that is chosen in from more than four, or typed into; in a file of its own, so that fields alone do not bring the list along. */
export const choiceParts = [...fieldParts, MatSelectModule, ShowsNothing] as const;
