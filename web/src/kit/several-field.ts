import { ChangeDetectionStrategy, Component, input, model } from '@angular/core';
import { choiceParts } from './choice';
import type { Option } from './choice-field';
import { KitField, kitField } from './kit-field';

/**
 * Some of more than four, each ticked in its list.
 * @example <kettle-several-field label="Whom" [formControl]="form.controls.to" [options]="colleagues()" />
 */
@Component({
  selector: 'kettle-several-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [choiceParts],
  providers: [kitField(() => SeveralField)],
  template: `
    <mat-form-field>
      <mat-label>{{ label() }}</mat-label>
      <mat-select
        multiple
        [value]="value()"
        (selectionChange)="put($event.value)"
        (closed)="leave()"
        [required]="isRequired()"
        [disabled]="isDisabled()"
        [aria-label]="ariaLabel()"
        [kettleProblem]="wrong()"
      >
        @if (options().length === 0) {
          <mat-option i18n disabled>Nothing to choose yet</mat-option>
        }
        @for (each of options(); track each.value) {
          <mat-option [value]="each.value" [disabled]="each.isOff">{{ each.words }}</mat-option>
        }
      </mat-select>
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
  `,
})
export class SeveralField<Value> extends KitField<readonly Value[]> {
  readonly value = model<readonly Value[]>([]);
  protected readonly empty = [];
  readonly options = input.required<readonly Option<Value>[]>();
}
