import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { type FormControl, ReactiveFormsModule } from '@angular/forms';
import type { PlainField } from '@kettle/contract/base/plain-fields';
import { Api } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { field, formParts, required } from '../../kit/form';
import { ProposedField } from '../../kit/proposed-field';

/** A catalogue as the inputs need it, whatever its fields. */
interface AnyCatalogue {
  readonly keys: readonly string[];
  of(key: never): PlainField;
}
interface CatalogueOf<Key extends string> {
  each<Made>(make: (key: Key, field: PlainField) => Made): Record<Key, Made>;
}

/** Inputs for the fields of a catalogue, each by its type; what is typed stays text until it is saved. */
@Component({
  selector: 'kettle-plain-inputs',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayField, formParts, ProposedField, ReactiveFormsModule],
  template: `
    @for (each of fields(); track each.key) {
      @switch (each.shownAs) {
        @case ('date') {
          <kettle-day-field
            [label]="each.name"
            [class.wide]="each.isWide"
            [formControl]="control(each.key)"
          />
        }
        @case ('choice') {
          <kettle-choice-field
            [label]="each.name"
            [class.wide]="each.isWide"
            [formControl]="control(each.key)"
            [options]="each.options"
          />
        }
        @case ('proposed') {
          <kettle-proposed-field
            [label]="each.name"
            [class.wide]="each.isWide"
            [formControl]="control(each.key)"
            [most]="each.most ?? null"
            [proposals]="inUse()[each.key] ?? []"
            (focusin)="askFor(each.key)"
          />
        }
        @default {
          <kettle-text-field
            [label]="each.name"
            [class.wide]="each.isWide"
            [formControl]="control(each.key)"
            [rows]="each.type === 'notes' ? 2 : 1"
            [type]="each.type === 'link' ? 'url' : 'text'"
            [most]="each.type === 'notes' ? null : (each.most ?? null)"
          />
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
export class PlainInputs {
  private readonly api = inject(Api);
  /** Words in use, of the fields that propose them, once somebody came to one. */
  protected readonly inUse = signal<Readonly<Record<string, readonly string[]>>>({});
  readonly catalogue = input.required<AnyCatalogue>();
  /** Only these of them, in this order; left out, all. */
  readonly only = input<readonly string[] | null>(null);
  /** The controls of the form, by key. */
  readonly controls = input.required<Readonly<Record<string, unknown>>>();
  protected readonly fields = computed(() =>
    (this.only() ?? this.catalogue().keys).map((key) => {
      const plain = this.catalogue().of(key as never);
      const isWide = plain.type === 'notes' || plain.type === 'link' || plain.isRequired === true;
      return {
        key,
        ...plain,
        name: upperFirst(plain.name),
        isWide,
        shownAs: isProposed(key) ? 'proposed' : plain.type,
        options: optionsOf(plain),
      };
    }),
  );

  protected control(key: string): FormControl<string> {
    return this.controls()[key] as FormControl<string>;
  }

  protected askFor(key: string): void {
    if (!isProposed(key) || this.inUse()[key] !== undefined) return;
    this.api.call('wordsInUse', { query: { field: key } }).subscribe({
      next: ({ words }) => this.inUse.update((all) => ({ ...all, [key]: words })),
      // Without proposals one types.
      error: () => this.inUse.update((all) => ({ ...all, [key]: [] })),
    });
  }
}

const isProposed = (key: string): key is 'source' | 'campaign' => key === 'source' || key === 'campaign';

const upperFirst = (words: string) => words.replace(/^./, (first) => first.toUpperCase());

const optionsOf = ({ choices = [], choiceNames, otherwise }: PlainField) => [
  ...(otherwise === undefined ? [{ value: '', words: '—' }] : []),
  ...choices.map((choice) => ({ value: choice, words: choiceNames?.[choice] ?? choice })),
];

/** The fields of a record as controls to type in. */
export function plainControls<Key extends string>(
  catalogue: CatalogueOf<Key>,
  record: Partial<Record<Key, string | null>> | null,
): Record<Key, FormControl<string>> {
  return catalogue.each((key, { isRequired, otherwise }) =>
    (isRequired ? required : field)<string>(record?.[key] ?? otherwise ?? ''),
  );
}

/** Typed texts as a change sends them: an empty one is null where a field may be empty. */
export function readPlain<Key extends string>(
  catalogue: CatalogueOf<Key>,
  controls: Readonly<Record<Key, FormControl<string>>>,
): Record<Key, string | null> {
  return catalogue.each((key, { type, isRequired, otherwise }) => {
    const { value } = controls[key];
    const text = type === 'notes' ? value : value.trim();
    return text === '' && !isRequired && otherwise === undefined ? null : text;
  });
}
