import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { ReactiveFormsModule } from '@angular/forms';
import type { CustomField } from '@kettle/contract';
import { DayField } from '../../kit/day-field';
import { formParts, sameWords } from '../../kit/form';
import type { CustomControls } from './custom-controls';
import { PersonPicker } from './person-picker';

/** Inputs for the fields an admin defined, each by its type; what is typed stays text until it is saved. */
@Component({
  selector: 'kettle-custom-inputs',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayField, formParts, PersonPicker, ReactiveFormsModule],
  template: `
    @for (each of fields(); track each.id) {
      @if (controls().controls[each.id]; as control) {
        @switch (each.type) {
          @case ('person') {
            <kettle-person-picker [label]="each.name" [formControl]="control" />
          }
          @case ('date') {
            <kettle-day-field [label]="each.name" [formControl]="control" />
          }
          @case ('choice') {
            <kettle-choice-field
              [label]="each.name"
              [formControl]="control"
              [options]="among(each.choices)"
            />
          }
          @case ('yes-no') {
            <kettle-choice-field [label]="each.name" [formControl]="control" [options]="yesNo" />
          }
          @default {
            <kettle-text-field [label]="each.name" [formControl]="control" />
          }
        }
      }
    }
  `,
  styles: `
    :host {
      display: contents;
    }
  `,
})
export class CustomInputs {
  readonly fields = input.required<readonly CustomField[]>();
  readonly controls = input.required<CustomControls>();
  protected readonly among = (choices: readonly string[]) => [
    { value: '', words: '—' },
    ...sameWords(choices),
  ];
  protected readonly yesNo = this.among(['yes', 'no']);
}
