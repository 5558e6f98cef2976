import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import { ControlContainer, FormsModule, NgForm } from '@angular/forms';
import type { PlainField } from '@kettle/contract/base/plain-fields';
import { Api, type ApiProblem } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { choiceParts } from '../../kit/choice';

/** A catalogue as the inputs need it, whatever its fields. */
interface AnyCatalogue {
  readonly keys: readonly string[];
  of(key: never): PlainField;
}

/** Inputs for the fields of a catalogue, each by its type; what is typed stays text until it is saved. */
@Component({
  selector: 'kettle-plain-inputs',
  changeDetection: ChangeDetectionStrategy.Default,
  imports: [choiceParts, DayField, FormsModule, MatAutocompleteModule],
  viewProviders: [{ provide: ControlContainer, useExisting: NgForm }],
  template: `
    @for (field of fields(); track field.key) {
      @if (field.type === 'date') {
        <kettle-day-field
          [label]="field.name"
          [class.wide]="field.isWide"
          [name]="field.key"
          [required]="field.isRequired === true"
          [(ngModel)]="values()[field.key]"
          [problem]="problem()?.of(field.key)"
        />
      } @else {
        <mat-form-field [class.wide]="field.isWide">
          <mat-label>{{ field.name }}</mat-label>
          @switch (field.type) {
            @case ('choice') {
              <mat-select
                [name]="field.key"
                [(ngModel)]="values()[field.key]"
                [kettleProblem]="problem()?.of(field.key)"
              >
                @if (field.otherwise === undefined) {
                  <mat-option value="">—</mat-option>
                }
                @for (choice of field.choices; track choice) {
                  <mat-option [value]="choice">{{ field.choiceNames?.[choice] ?? choice }}</mat-option>
                }
              </mat-select>
            }
            @case ('notes') {
              <textarea
                matInput
                rows="2"
                [name]="field.key"
                [(ngModel)]="values()[field.key]"
                [kettleProblem]="problem()?.of(field.key)"
              ></textarea>
            }
            @default {
              <input
                matInput
                [matAutocomplete]="inUse"
                [matAutocompleteDisabled]="!proposes(field.key)"
                (focus)="askFor(field.key)"
                [name]="field.key"
                [type]="field.type === 'link' ? 'url' : 'text'"
                [attr.maxlength]="field.most"
                [required]="field.isRequired === true"
                [(ngModel)]="values()[field.key]"
                autocomplete="off"
                [kettleProblem]="problem()?.of(field.key)"
              />
            }
          }
          <mat-autocomplete #inUse="matAutocomplete">
            @for (word of like(field.key); track word) {
              <mat-option [value]="word">{{ word }}</mat-option>
            }
          </mat-autocomplete>
          @if (problem()?.of(field.key); as wrong) {
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
export class PlainInputs {
  private readonly api = inject(Api);
  /** Words in use, of the fields that propose them, once somebody came to one. */
  private readonly inUse = signal<Readonly<Record<string, readonly string[]>>>({});
  readonly catalogue = input.required<AnyCatalogue>();
  /** Only these of them, in this order; left out, all. */
  readonly only = input<readonly string[] | null>(null);
  /** Typed text by key; changed in place. */
  readonly values = input.required<Record<string, string>>();
  readonly problem = input<ApiProblem | null>(null);
  protected readonly fields = computed(() =>
    (this.only() ?? this.catalogue().keys).map((key) => {
      const field = this.catalogue().of(key as never);
      const isWide = field.type === 'notes' || field.type === 'link' || field.isRequired === true;
      return { key, ...field, name: field.name.replace(/^./, (first) => first.toUpperCase()), isWide };
    }),
  );

  protected proposes(key: string): key is 'source' | 'campaign' {
    return key === 'source' || key === 'campaign';
  }

  protected askFor(key: string): void {
    if (!this.proposes(key) || this.inUse()[key] !== undefined) return;
    this.api.call('wordsInUse', { query: { field: key } }).subscribe({
      next: ({ words }) => this.inUse.update((all) => ({ ...all, [key]: words })),
      // Without proposals one types.
      error: () => this.inUse.update((all) => ({ ...all, [key]: [] })),
    });
  }

  /** The words in use that hold what is typed, the most used first. */
  protected like(key: string): readonly string[] {
    const typed = (this.values()[key] ?? '').trim().toLowerCase();
    return (this.inUse()[key] ?? [])
      .filter((word) => word.toLowerCase().includes(typed) && word.toLowerCase() !== typed)
      .slice(0, 8);
  }
}

/** The fields of a record as texts to type in. */
export function plainTexts<Key extends string>(
  catalogue: { each<Made>(make: (key: Key, field: PlainField) => Made): Record<Key, Made> },
  record: Partial<Record<Key, string | null>> | null,
): Record<Key, string> {
  return catalogue.each((key, field) => record?.[key] ?? field.otherwise ?? '');
}

/** Typed texts as a change sends them: an empty one is null where a field may be empty. */
export function readPlainTexts<Key extends string>(
  catalogue: { each<Made>(make: (key: Key, field: PlainField) => Made): Record<Key, Made> },
  texts: Readonly<Record<Key, string>>,
): Record<Key, string | null> {
  return catalogue.each((key, { type, isRequired, otherwise }) => {
    const text = type === 'notes' ? texts[key] : texts[key].trim();
    return text === '' && !isRequired && otherwise === undefined ? null : text;
  });
}
