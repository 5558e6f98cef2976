import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  input,
  model,
  signal,
  viewChild,
} from '@angular/core';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import type { Option } from './choice-field';
import { fieldParts } from './field';
import { TypedField, typedField } from './typed-field';

const mostShown = 40;
const plain = (text: string) => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase().trim();

/**
 * One of very many that have names, as countries and time zones: what is typed narrows the list. Its value is the choice's own, or an empty
 * text; a choice with an empty value says what none means.
 * @example <kettle-long-choice-field label="Country" [formControl]="form.controls.country" [options]="countries" />
 */
@Component({
  selector: 'kettle-long-choice-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatAutocompleteModule],
  providers: [typedField(() => LongChoiceField)],
  template: `
    <mat-form-field [class.small]="label() === ''">
      @if (label() !== '') {
        <mat-label>{{ label() }}</mat-label>
      }
      <input
        matInput
        #box
        autocomplete="off"
        [matAutocomplete]="list"
        [value]="text()"
        (focus)="box.select()"
        (input)="read(box.value)"
        (blur)="leave()"
        [required]="isRequired()"
        [disabled]="isDisabled()"
        [placeholder]="placeholder() || none()"
        [attr.aria-label]="ariaLabel() || null"
        [kettleProblem]="wrong()"
      />
      <mat-autocomplete
        #list="matAutocomplete"
        autoActiveFirstOption
        (optionSelected)="take($event.option.value)"
      >
        @for (each of like(); track each.value) {
          <mat-option [value]="each.words" [disabled]="each.isOff">{{ each.words }}</mat-option>
        } @empty {
          <mat-option i18n disabled>Nothing is called so</mat-option>
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
export class LongChoiceField extends TypedField<string> {
  protected readonly box = viewChild<ElementRef<HTMLInputElement>>('box');
  protected readonly empty = '';
  readonly value = model('');
  readonly options = input.required<readonly Option<string>[]>();
  protected readonly text = signal('');
  /** What was typed since the field was entered; the list is whole until then. */
  private readonly typed = signal('');
  /** What an empty field means. */
  protected readonly none = computed(() => this.options().find(({ value }) => value === '')?.words ?? '');
  protected readonly like = computed(() => {
    const typed = plain(this.typed());
    const known = this.options().filter(({ value }) => value !== '');
    const begins = known.filter(({ words }) => plain(words).startsWith(typed));
    const holds =
      typed === '' ? [] : known.filter((each) => !begins.includes(each) && plain(each.words).includes(typed));
    return [...begins, ...holds].slice(0, mostShown);
  });

  constructor() {
    super();
    // Names may come after the value.
    effect(() => {
      const words = this.wordsOf(this.value());
      if (this.value() !== '') this.text.set(words);
    });
  }

  protected read(text: string): void {
    this.text.set(text);
    this.typed.set(text);
    this.put(this.find(text)?.value ?? '');
  }

  protected take(words: string): void {
    this.read(words);
    this.typed.set('');
  }

  protected override leave(): void {
    this.typed.set('');
    if (this.value() !== '') this.text.set(this.wordsOf(this.value()));
    super.leave();
  }

  protected unread(): string {
    return $localize`must be one of the list`;
  }

  protected show(value: string): void {
    this.text.set(value === '' ? '' : this.wordsOf(value));
  }

  protected isUnreadable(text: string): boolean {
    return this.find(text) === undefined;
  }

  private wordsOf(value: string): string {
    return this.options().find((each) => each.value === value)?.words ?? value;
  }

  /** By its name or its own value: `GB` is a country as well as "United Kingdom". */
  private find(text: string): Option<string> | undefined {
    const typed = plain(text);
    if (typed === '') return undefined;
    const known = this.options().filter(({ value, isOff }) => value !== '' && isOff !== true);
    return (
      known.find(({ words }) => plain(words) === typed) ?? known.find(({ value }) => plain(value) === typed)
    );
  }
}
