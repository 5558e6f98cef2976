import { ChangeDetectionStrategy, Component, computed, inject, model, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import type { CompanyRow } from '@kettle/contract';
import { catchError, debounceTime, of, Subject, switchMap } from 'rxjs';
import { Api } from '../../api/api';
import { fieldParts } from '../../kit/field';
import { KitField, kitField } from '../../kit/kit-field';
import { mostProposed } from './record-picker';

const settleMillis = 150;

/**
 * A company by its name: one that is known, chosen by what tells it from others of that name, or one more by typing on. Its name is the
 * field's value; `companyId` says which one was chosen.
 * @example <kettle-company-picker label="Company" [formControl]="at.companyName" [(companyId)]="companyId" />
 */
@Component({
  selector: 'kettle-company-picker',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatAutocompleteModule],
  providers: [kitField(() => CompanyPicker)],
  template: `
    <mat-form-field>
      <mat-label>{{ label() }}</mat-label>
      <input
        matInput
        #box
        [matAutocomplete]="list"
        autocomplete="off"
        maxlength="160"
        [value]="value()"
        (focus)="asked.next(box.value)"
        (input)="look(box.value)"
        (blur)="leave()"
        [required]="isRequired()"
        [disabled]="isDisabled()"
        [kettleProblem]="wrong()"
      />
      <mat-autocomplete
        #list="matAutocomplete"
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
      } @else if (isNew()) {
        <mat-hint i18n>A new company</mat-hint>
      }
    </mat-form-field>
  `,
  styles: `
    :host {
      display: inline-grid;
    }
  `,
})
export class CompanyPicker extends KitField<string> {
  private readonly api = inject(Api);
  readonly value = model('');
  protected readonly empty = '';
  /** Which one was chosen; null for a name that was typed. */
  readonly companyId = model<string | null>(null);
  protected readonly found = signal<readonly CompanyRow[]>([]);
  /** What `found` was looked for by. */
  private readonly sought = signal('');
  protected readonly asked = new Subject<string>();
  protected readonly nameOf = (row: CompanyRow | string | null) =>
    typeof row === 'string' ? row : (row?.name ?? '');
  /** Something was typed that no known company is called. */
  protected readonly isNew = computed(
    () =>
      this.companyId() === null &&
      this.value().trim() !== '' &&
      this.sought() === this.value().trim() &&
      !this.found().some(({ name }) => name.toLowerCase() === this.sought().toLowerCase()),
  );

  constructor() {
    super();
    this.asked
      .pipe(
        debounceTime(settleMillis),
        switchMap((text) => {
          const q = text.trim();
          const query =
            q === '' ? { limit: mostProposed, owner: 'mine' as const } : { limit: mostProposed, q };
          return this.api.call('listCompanies', { query }).pipe(
            catchError(() => of({ rows: [] as CompanyRow[] })),
            switchMap(({ rows }) => of({ rows, q })),
          );
        }),
        takeUntilDestroyed(),
      )
      .subscribe(({ rows, q }) => {
        this.found.set(rows);
        this.sought.set(q);
      });
  }

  protected look(text: string): void {
    this.companyId.set(null);
    this.put(text);
    this.asked.next(text);
  }

  protected take(row: CompanyRow): void {
    this.put(row.name);
    this.companyId.set(row.id);
  }

  /** What tells two of one name apart. */
  protected under({ city, country }: CompanyRow): string {
    return [city, country].filter(Boolean).join(', ');
  }
}
