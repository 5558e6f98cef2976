import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { ControlContainer, FormsModule, NgForm } from '@angular/forms';
import type { CustomField } from '@kettle/contract';
import type { ApiProblem } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { choiceParts } from '../../kit/choice';
import { PersonPicker } from './person-picker';

/** Inputs for the fields an admin defined, each by its type; what is typed stays text until it is saved. */
@Component({
  selector: 'kettle-custom-inputs',
  changeDetection: ChangeDetectionStrategy.Default,
  imports: [choiceParts, DayField, FormsModule, PersonPicker],
  viewProviders: [{ provide: ControlContainer, useExisting: NgForm }],
  template: `
    @for (field of fields(); track field.id) {
      @if (field.type === 'person') {
        <kettle-person-picker
          [label]="field.name"
          [value]="values()[field.id] ?? ''"
          (picked)="values()[field.id] = $event"
        />
      } @else if (field.type === 'date') {
        <kettle-day-field
          [label]="field.name"
          [name]="field.id"
          [(ngModel)]="values()[field.id]"
          [problem]="problem()?.of('custom.' + field.id)"
        />
      } @else {
        <mat-form-field>
          <mat-label>{{ field.name }}</mat-label>
          @if (field.type === 'choice' || field.type === 'yes-no') {
            <mat-select
              [name]="field.id"
              [(ngModel)]="values()[field.id]"
              [kettleProblem]="problem()?.of('custom.' + field.id)"
            >
              <mat-option value="">—</mat-option>
              @for (choice of field.type === 'choice' ? field.choices : ['yes', 'no']; track choice) {
                <mat-option [value]="choice">{{ choice }}</mat-option>
              }
            </mat-select>
          } @else {
            <input
              matInput
              [name]="field.id"
              [(ngModel)]="values()[field.id]"
              autocomplete="off"
              [kettleProblem]="problem()?.of('custom.' + field.id)"
            />
          }
          @if (problem()?.of('custom.' + field.id); as wrong) {
            <mat-error>{{ wrong }}</mat-error>
          }
        </mat-form-field>
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
  /** Typed text by field id; changed in place. */
  readonly values = input.required<Record<string, string>>();
  readonly problem = input<ApiProblem | null>(null);
}
