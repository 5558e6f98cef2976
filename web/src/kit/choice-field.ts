import { ChangeDetectionStrategy, Component, computed, input, model } from '@angular/core';
import { choiceParts } from './choice';
import { KitField, kitField } from './kit-field';

export interface Option<Value> {
  readonly value: Value;
  readonly words: string;
  /** Cannot be chosen just now: its words say why. */
  readonly isOff?: boolean;
}
/** Choices that belong together, as the stages of a pipeline. */
export interface OptionGroup<Value> {
  readonly group: string;
  readonly options: readonly Option<Value>[];
}

/** What is offered: each by itself, and those that belong together. */
export type Choices<Value> = readonly (Option<Value> | OptionGroup<Value>)[];

/**
 * One of more than four. A list whose choices are not read yet opens all the same and fills when they come.
 * @example <kettle-choice-field label="Stage" [formControl]="form.controls.stageId" [options]="stages()" />
 */
@Component({
  selector: 'kettle-choice-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [choiceParts],
  providers: [kitField(() => ChoiceField)],
  template: `
    <mat-form-field [class.small]="label() === ''">
      @if (label() !== '') {
        <mat-label>{{ label() }}</mat-label>
      }
      <mat-select
        [value]="value()"
        (selectionChange)="put($event.value)"
        (closed)="leave()"
        [required]="isRequired()"
        [disabled]="isDisabled()"
        [placeholder]="placeholder()"
        [aria-label]="ariaLabel()"
        [attr.cdkFocusInitial]="startsHere() ? '' : null"
        [kettleProblem]="wrong()"
      >
        @if (options().length === 0) {
          <mat-option i18n disabled>Nothing to choose yet</mat-option>
        }
        @for (each of alone(); track each.value) {
          <mat-option [value]="each.value" [disabled]="each.isOff">{{ each.words }}</mat-option>
        }
        @for (group of groups(); track group.group) {
          <mat-optgroup [label]="group.group">
            @for (each of group.options; track each.value) {
              <mat-option [value]="each.value" [disabled]="each.isOff">{{ each.words }}</mat-option>
            }
          </mat-optgroup>
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
export class ChoiceField<Value> extends KitField<Value | null> {
  readonly value = model<Value | null>(null);
  protected readonly empty = null;
  readonly options = input.required<Choices<Value>>();
  protected readonly alone = computed(() => this.options().filter((each) => 'value' in each));
  protected readonly groups = computed(() => this.options().filter((each) => 'group' in each));
}

/** Words that stand for themselves, as choices. @example sameWords(['GBP', 'EUR']) */
export const sameWords = (words: readonly string[]): Option<string>[] =>
  words.map((word) => ({ value: word, words: word }));

/** Whatever has a name, as choices by its id. */
export const named = <Id>(records: readonly { readonly id: Id; readonly name: string }[]): Option<Id>[] =>
  records.map(({ id, name }) => ({ value: id, words: name }));

/** Labels of a contract's names, as choices. @example labelled(channelLabel) */
export const labelled = <Name extends string>(labels: Readonly<Record<Name, string>>): Option<Name>[] =>
  (Object.entries(labels) as [Name, string][]).map(([value, words]) => ({ value, words }));
