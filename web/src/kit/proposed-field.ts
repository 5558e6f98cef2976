import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, model } from '@angular/core';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import { fieldParts } from './field';
import { KitField, kitField } from './kit-field';

const mostProposed = 8;

/**
 * Words in one line, with words in use proposed while it is typed. Apart from the plain field, so that a form without proposals opens without
 * the list and what carries it.
 * @example <kettle-proposed-field label="Why" [formControl]="form.controls.reason" [proposals]="reasons()" />
 */
@Component({
  selector: 'kettle-proposed-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatAutocompleteModule],
  providers: [kitField(() => ProposedField)],
  template: `
    <mat-form-field [class.small]="label() === ''">
      @if (label() !== '') {
        <mat-label>{{ label() }}</mat-label>
      }
      <input
        matInput
        #box
        [matAutocomplete]="inUse"
        [matAutocompleteDisabled]="isArriving()"
        autocomplete="off"
        [value]="value()"
        (input)="put(box.value)"
        (focus)="arrive()"
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
export class ProposedField extends KitField<string> {
  readonly value = model('');
  protected readonly empty = '';
  /** So many characters at most. */
  readonly most = input<number | null>(null);
  /** Words in use, the most used first. */
  readonly proposals = input.required<readonly string[]>();
  /** Where a dialog starts in this field its list stays shut: it would lie over the fields below before anybody asked for it. */
  protected readonly isArriving = linkedSignal(() => this.startsHere());
  protected readonly like = computed(() => {
    const typed = this.value().trim().toLowerCase();
    return this.proposals()
      .filter((word) => word.toLowerCase().includes(typed) && word.toLowerCase() !== typed)
      .slice(0, mostProposed);
  });

  /** From the next turn on the list opens with a key or a press; the trigger hears of this focus right after the field. */
  protected arrive(): void {
    if (this.isArriving()) setTimeout(() => this.isArriving.set(false));
  }
}
