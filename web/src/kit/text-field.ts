import { ChangeDetectionStrategy, Component, input, model } from '@angular/core';
import { fieldParts } from './field';
import { KitField, kitField } from './kit-field';

/**
 * Words, in one line or several; `kettle-proposed-field` where words in use are proposed.
 * @example <kettle-text-field label="Name" [formControl]="form.controls.name" [most]="160" />
 */
@Component({
  selector: 'kettle-text-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts],
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
}
