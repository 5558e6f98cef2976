import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { ContactRow } from '@kettle/contract';
import { catchError, debounceTime, of, Subject, switchMap } from 'rxjs';
import { Api } from '../../api/api';
import { PeopleWords } from './people-words';

const settleMillis = 140;

/** Finds one contact by name while typing, and gives its id. */
@Component({
  selector: 'kettle-person-picker',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <input
      #box
      class="plain"
      role="combobox"
      autocomplete="off"
      [attr.aria-label]="label()"
      [attr.aria-expanded]="found().length > 0"
      [attr.aria-controls]="found().length > 0 ? 'picked-from' : null"
      [placeholder]="placeholder()"
      [value]="text()"
      (input)="look(box.value)"
      (keydown)="onKey($event)"
      (blur)="found.set([])"
    />
    @if (found().length > 0) {
      <ul id="picked-from" role="listbox" [attr.aria-label]="label()">
        @for (row of found(); track row.id) {
          <li role="option" [attr.aria-selected]="$index === at()" (mousedown)="take(row)">
            <b>{{ row.name }}</b>
            <span class="soft">{{ row.companyName }}</span>
          </li>
        }
      </ul>
    }
  `,
  styles: `
    :host {
      position: relative;
      display: block;
    }
    ul {
      position: absolute;
      inset-inline: 0;
      z-index: 3;
      max-block-size: 220px;
      overflow: auto;
      border: 1px solid var(--hairline);
      border-radius: var(--radius);
      background: var(--sheet);
    }
    li {
      padding: 5px 8px;
      cursor: pointer;
    }
    [aria-selected='true'],
    li:hover {
      background: var(--link-wash);
    }
  `,
})
export class PersonPicker {
  private readonly api = inject(Api);
  private readonly words = inject(PeopleWords);
  readonly label = input.required<string>();
  readonly value = input('');
  readonly placeholder = input('Type a name');
  /** Empties itself after each choice, to pick several. */
  readonly isRepeated = input(false);
  readonly picked = output<string>();
  readonly pickedRow = output<ContactRow>();
  protected readonly found = signal<readonly ContactRow[]>([]);
  protected readonly at = signal(0);
  private readonly typed = signal<string | null>(null);
  protected readonly text = computed(
    () => this.typed() ?? (this.value() ? this.words.person(this.value()) : ''),
  );
  private readonly asked = new Subject<string>();

  constructor() {
    effect(() => {
      this.value();
      untracked(() => this.typed.set(null));
    });
    this.asked
      .pipe(
        debounceTime(settleMillis),
        switchMap((q) =>
          q.trim() === ''
            ? of({ rows: [] as ContactRow[] })
            : this.api
                .call('listContacts', { query: { q, limit: 6 } })
                .pipe(catchError(() => of({ rows: [] as ContactRow[] }))),
        ),
        takeUntilDestroyed(),
      )
      .subscribe(({ rows }) => {
        this.found.set(rows);
        this.at.set(0);
      });
  }

  protected look(text: string): void {
    this.typed.set(text);
    if (text.trim() === '') this.picked.emit('');
    this.asked.next(text);
  }

  protected onKey(event: KeyboardEvent): void {
    if (this.found().length === 0) return;
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      const by = event.key === 'ArrowDown' ? 1 : -1;
      this.at.update((at) => Math.max(0, Math.min(this.found().length - 1, at + by)));
    }
    if (event.key === 'Escape') {
      event.stopPropagation();
      this.found.set([]);
    }
    if (event.key === 'Enter') {
      event.preventDefault();
      this.take(this.found()[this.at()]!);
    }
  }

  protected take(row: ContactRow): void {
    this.typed.set(this.isRepeated() ? '' : row.name);
    this.found.set([]);
    this.picked.emit(row.id);
    this.pickedRow.emit(row);
  }
}
