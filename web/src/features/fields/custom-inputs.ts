import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { ControlContainer, FormsModule, NgForm } from '@angular/forms';
import type { CustomField } from '@kettle/contract';
import type { ApiProblem } from '../../api/api';
import { PersonPicker } from './person-picker';

/** Inputs for the fields an admin defined, each by its type; what is typed stays text until it is saved. */
@Component({
  selector: 'kettle-custom-inputs',
  changeDetection: ChangeDetectionStrategy.Default,
  imports: [FormsModule, PersonPicker],
  viewProviders: [{ provide: ControlContainer, useExisting: NgForm }],
  template: `
    @for (field of fields(); track field.id) {
      @if (field.type === 'person') {
        <div class="field">
          <span>{{ field.name }}</span>
          <kettle-person-picker
            [label]="field.name"
            [value]="values()[field.id] ?? ''"
            (picked)="values()[field.id] = $event"
          />
        </div>
      } @else {
        <label class="field" [htmlFor]="'own-' + field.id">
          <span>{{ field.name }}</span>
          @switch (field.type) {
            @case ('choice') {
              <select [name]="field.id" [id]="'own-' + field.id" [(ngModel)]="values()[field.id]">
                <option value="">—</option>
                @for (choice of field.choices; track choice) {
                  <option [value]="choice">{{ choice }}</option>
                }
              </select>
            }
            @case ('yes-no') {
              <select [name]="field.id" [id]="'own-' + field.id" [(ngModel)]="values()[field.id]">
                <option value="">—</option>
                <option value="yes">yes</option>
                <option value="no">no</option>
              </select>
            }
            @default {
              <input
                [name]="field.id"
                [id]="'own-' + field.id"
                [type]="field.type === 'date' ? 'date' : 'text'"
                [(ngModel)]="values()[field.id]"
                autocomplete="off"
              />
            }
          }
          @if (problem()?.of('custom.' + field.id); as wrong) {
            <span class="wrong">{{ wrong }}</span>
          }
        </label>
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
