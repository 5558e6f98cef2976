import {
  booleanAttribute,
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  input,
  model,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import type { ContactRow } from '@kettle/contract';
import { catchError, debounceTime, of, Subject, switchMap } from 'rxjs';
import { Api } from '../../api/api';
import { fieldParts } from '../../kit/field';
import { KitField, kitField } from '../../kit/kit-field';
import { PeopleWords } from './people-words';

const settleMillis = 150;
const mostShown = 6;

/** Finds one contact by name while typing, and gives its id; before anything is typed, whom one was last in touch with. */
@Component({
  selector: 'kettle-person-picker',
  imports: [fieldParts, MatAutocompleteModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  providers: [kitField(() => PersonPicker)],
  template: `
    <mat-form-field [class.small]="small()">
      @if (!small()) {
        <mat-label>{{ label() }}</mat-label>
      }
      <input
        matInput
        #box
        [matAutocomplete]="list"
        autocomplete="off"
        [attr.aria-label]="small() ? label() : null"
        [placeholder]="placeholder() || 'Type a name'"
        [value]="text()"
        (focus)="asked.next(box.value === text() ? '' : box.value)"
        (input)="look(box.value)"
        (blur)="leave()"
        [required]="isRequired()"
        [disabled]="isDisabled()"
        [kettleProblem]="wrong()"
      />
      <mat-autocomplete
        #list="matAutocomplete"
        [autoActiveFirstOption]="box.value !== ''"
        [displayWith]="nameOf"
        (optionSelected)="take($event.option.value)"
      >
        @for (row of found(); track row.id) {
          <mat-option [value]="row">
            <b>{{ row.name }}</b>
            <span class="soft">{{ row.companyName }}</span>
          </mat-option>
        }
      </mat-autocomplete>
      @if (wrong(); as words) {
        <mat-error>{{ words }}</mat-error>
      }
    </mat-form-field>
  `,
  styles: `
    :host {
      display: block;
    }
  `,
})
export class PersonPicker extends KitField<string> {
  private readonly api = inject(Api);
  private readonly words = inject(PeopleWords);
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  /** The id of whom was picked, or an empty text. */
  readonly value = model('');
  protected readonly empty = '';
  /** In a line of its own words: without a name above it. */
  readonly small = input(false, { transform: booleanAttribute });
  /** Empties itself after each choice, to pick several. */
  readonly isRepeated = input(false);
  readonly picked = output<string>();
  readonly pickedRow = output<ContactRow>();
  protected readonly found = signal<readonly ContactRow[]>([]);
  private readonly typed = signal<string | null>(null);
  /** What was picked here last. */
  private own: string | null = null;
  protected readonly text = computed(
    () => this.typed() ?? (this.value() ? this.words.person(this.value()) : ''),
  );
  protected readonly asked = new Subject<string>();
  protected readonly nameOf = (row: ContactRow | string | null) =>
    typeof row === 'string' ? row : this.isRepeated() ? '' : (row?.name ?? '');

  constructor() {
    super();
    effect(() => {
      const value = this.value();
      // Another one from outside: their name instead of what was typed here.
      if (value !== this.own) untracked(() => this.typed.set(null));
    });
    this.asked
      .pipe(
        debounceTime(settleMillis),
        switchMap((text) => {
          const q = text.trim();
          const query =
            q === ''
              ? { limit: mostShown, sort: '-last-touch', owner: 'mine' as const }
              : { limit: mostShown, q };
          return this.api
            .call('listContacts', { query })
            .pipe(catchError(() => of({ rows: [] as ContactRow[] })));
        }),
        takeUntilDestroyed(),
      )
      .subscribe(({ rows }) => this.found.set(rows));
  }

  protected look(text: string): void {
    this.typed.set(text);
    if (text.trim() === '') this.choose('');
    this.asked.next(text);
  }

  protected take(row: ContactRow): void {
    this.typed.set(this.isRepeated() ? '' : row.name);
    if (this.isRepeated()) this.box().nativeElement.value = '';
    this.found.set([]);
    this.choose(row.id);
    this.pickedRow.emit(row);
  }

  private choose(id: string): void {
    this.own = id;
    if (!this.isRepeated()) this.put(id);
    this.picked.emit(id);
  }
}
