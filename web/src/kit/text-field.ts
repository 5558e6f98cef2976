import { ChangeDetectionStrategy, Component, computed, input, model } from '@angular/core';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import { fieldParts } from './field';
import { KitField, kitField } from './kit-field';

const mostProposed = 8;

/**
 * Words, in one line or several, with proposals where there are words in use.
 * @example <kettle-text-field label="Name" [formControl]="form.controls.name" [most]="160" />
 */
@Component({
  selector: 'kettle-text-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatAutocompleteModule],
  providers: [kitField(() => TextField)],
  template: `
    <mat-form-field [class.small]="label() === ''">
      @if (label() !== '') {
        <mat-label>{{ label() }}</mat-label>
      }
      @if (rows() > 1) {
        <textarea
          matInput
          #lines
          [rows]="rows()"
          [value]="value()"
          (input)="put(lines.value)"
          (blur)="leave()"
          [attr.maxlength]="most()"
          [required]="isRequired()"
          [disabled]="isDisabled()"
          [placeholder]="placeholder()"
          [attr.aria-label]="ariaLabel() || null"
          [attr.cdkFocusInitial]="startsHere() ? '' : null"
          [kettleProblem]="wrong()"
        ></textarea>
      } @else {
        <input
          matInput
          #box
          [type]="type()"
          [matAutocomplete]="inUse"
          [matAutocompleteDisabled]="proposals() === null"
          [autocomplete]="remembered()"
          [value]="value()"
          (input)="put(box.value)"
          (blur)="leave()"
          [attr.maxlength]="most()"
          [required]="isRequired()"
          [disabled]="isDisabled()"
          [placeholder]="placeholder()"
          [attr.aria-label]="ariaLabel() || null"
          [attr.cdkFocusInitial]="startsHere() ? '' : null"
          [kettleProblem]="wrong()"
        />
        <mat-autocomplete #inUse="matAutocomplete" (optionSelected)="put($event.option.value)">
          @for (word of like(); track word) {
            <mat-option [value]="word">{{ word }}</mat-option>
          }
        </mat-autocomplete>
      }
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
export class TextField extends KitField<string> {
  readonly value = model('');
  protected readonly empty = '';
  readonly type = input<'text' | 'email' | 'tel' | 'url' | 'password'>('text');
  /** What the browser may fill in, by its name in HTML. */
  readonly remembered = input('off');
  /** So many characters at most. */
  readonly most = input<number | null>(null);
  readonly rows = input(1);
  /** Words in use, the most used first; null proposes nothing. */
  readonly proposals = input<readonly string[] | null>(null);
  protected readonly like = computed(() => {
    const typed = this.value().trim().toLowerCase();
    return (this.proposals() ?? [])
      .filter((word) => word.toLowerCase().includes(typed) && word.toLowerCase() !== typed)
      .slice(0, mostProposed);
  });
}
