import {
  booleanAttribute,
  computed,
  Directive,
  effect,
  type ElementRef,
  input,
  model,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { catchError, debounceTime, type Observable, of, Subject, switchMap } from 'rxjs';
import { KitField } from '../../kit/kit-field';

const settleMillis = 150;
/** Rows that are proposed at once. */
export const mostProposed = 6;

/** What every picker shows: a box, and the records found under it. */
export const pickerTemplate = `
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
      [placeholder]="placeholder() || typeAName"
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
          <span class="soft">{{ under(row) }}</span>
        </mat-option>
      }
    </mat-autocomplete>
    @if (wrong(); as words) {
      <mat-error>{{ words }}</mat-error>
    } @else if (isSought() && found().length === 0) {
      <mat-hint>{{ noneFound }}</mat-hint>
    }
  </mat-form-field>
`;

/** Finds one record by name while typing, and gives its id; before anything is typed, those that are likeliest. */
@Directive()
export abstract class RecordPicker<
  Row extends { readonly id: string; readonly name: string },
> extends KitField<string> {
  protected readonly typeAName = $localize`Type a name`;
  protected readonly noneFound = $localize`Nothing of that name. Type fewer letters.`;
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  /** The id of what was picked, or an empty text. */
  readonly value = model('');
  protected readonly empty = '';
  /** In a line of its own words: without a name above it. */
  readonly small = input(false, { transform: booleanAttribute });
  /** Empties itself after each choice, to pick several. */
  readonly isRepeated = input(false);
  readonly picked = output<string>();
  readonly pickedRow = output<Row>();
  protected readonly found = signal<readonly Row[]>([]);
  /** Something was typed, and looked for. */
  protected readonly isSought = signal(false);
  private readonly typed = signal<string | null>(null);
  /** What was picked here last. */
  private own: string | null = null;
  protected readonly text = computed(() => this.typed() ?? (this.value() ? this.known(this.value()) : ''));
  protected readonly asked = new Subject<string>();
  protected readonly nameOf = (row: Row | string | null) =>
    typeof row === 'string' ? row : this.isRepeated() ? '' : (row?.name ?? '');

  /** Records by their name, the likeliest where nothing was typed; at most `mostProposed`. */
  protected abstract find(text: string): Observable<readonly Row[]>;
  /** What tells two of one name apart. */
  protected abstract under(row: Row): string | null;
  /** The name of a record that was picked before. */
  protected abstract known(id: string): string;

  constructor() {
    super();
    effect(() => {
      const value = this.value();
      // Another one from outside: its name instead of what was typed here.
      if (value !== this.own) untracked(() => this.typed.set(null));
    });
    this.asked
      .pipe(
        debounceTime(settleMillis),
        switchMap((text) =>
          this.find(text.trim()).pipe(
            catchError(() => of([] as readonly Row[])),
            switchMap((rows) => of({ rows, isSought: text.trim() !== '' })),
          ),
        ),
        takeUntilDestroyed(),
      )
      .subscribe(({ rows, isSought }) => {
        this.found.set(rows);
        this.isSought.set(isSought);
      });
  }

  protected look(text: string): void {
    this.typed.set(text);
    this.isSought.set(false);
    if (text.trim() === '') this.choose('');
    this.asked.next(text);
  }

  protected take(row: Row): void {
    this.typed.set(this.isRepeated() ? '' : row.name);
    if (this.isRepeated()) this.box().nativeElement.value = '';
    this.found.set([]);
    this.isSought.set(false);
    this.choose(row.id);
    this.pickedRow.emit(row);
  }

  private choose(id: string): void {
    this.own = id;
    if (!this.isRepeated()) this.put(id);
    this.picked.emit(id);
  }
}
