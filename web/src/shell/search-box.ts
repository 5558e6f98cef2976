import {
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { toObservable, takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { ContactRow } from '@kettle/contract';
import { debounceTime, distinctUntilChanged, of, switchMap, catchError } from 'rxjs';
import { Api } from '../api/api';
import { Keys } from './keys';
import { Opened } from './opened';

const settleMillis = 140;

/** Finds people from anywhere by name, firm, address or digits of a number. */
@Component({
  selector: 'kettle-search-box',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIcon],
  template: `
    <mat-icon svgIcon="search" aria-hidden="true" />
    <input
      #box
      type="search"
      placeholder="Find somebody"
      aria-label="Find somebody"
      role="combobox"
      [attr.aria-controls]="isListed() ? 'found-people' : null"
      [attr.aria-expanded]="isListed()"
      [attr.aria-activedescendant]="isListed() && found().length > 0 ? 'found-' + chosen() : null"
      [value]="words()"
      (input)="words.set(box.value); isOpen.set(true)"
      (keydown)="onKey($event)"
      (blur)="isOpen.set(false)"
    />
    <kbd>/</kbd>
    @if (isListed()) {
      <ul id="found-people" role="listbox" aria-label="People found">
        @for (row of found(); track row.id) {
          <li
            role="option"
            [id]="'found-' + $index"
            [attr.aria-selected]="$index === chosen()"
            (mousedown)="take(row)"
          >
            <b>{{ row.name }}</b>
            <span class="soft">{{ row.companyName }}</span>
          </li>
        } @empty {
          <li class="soft" role="option" aria-disabled="true" aria-selected="false">Nobody found</li>
        }
      </ul>
    }
  `,
  styles: `
    :host {
      position: relative;
      display: flex;
      align-items: center;
      gap: var(--space-2);
      inline-size: 250px;
      padding: 3px 4px;
      border-block-end: 1px solid var(--text-soft);
      color: var(--text-soft);
    }
    input {
      flex: 1;
      min-inline-size: 0;
      border: 0;
      background: none;
      color: var(--text);
      font: inherit;
      outline: none;
    }
    input::placeholder {
      color: var(--text-soft);
    }
    :host:has(input:focus) {
      border-block-end-color: var(--link);
      box-shadow: 0 1px 0 var(--link);
    }
    ul {
      position: absolute;
      inset-block-start: calc(100% + 4px);
      inset-inline: 0;
      z-index: 10;
      max-block-size: 340px;
      overflow: auto;
      border: 1px solid var(--hairline);
      border-radius: var(--radius);
      background: var(--sheet);
      color: var(--text);
    }
    li {
      padding: 6px 10px;
      cursor: pointer;
    }
    li[aria-selected='true'],
    li:hover {
      background: var(--link-wash);
    }
  `,
})
export class SearchBox {
  private readonly api = inject(Api);
  private readonly opened = inject(Opened);
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  protected readonly words = signal('');
  protected readonly isOpen = signal(false);
  protected readonly found = signal<readonly ContactRow[]>([]);
  protected readonly chosen = signal(0);
  protected readonly isListed = computed(() => this.isOpen() && this.words().trim() !== '');

  constructor() {
    inject(Keys).bind({ keys: '/', words: 'Find somebody', act: () => this.box().nativeElement.select() });
    toObservable(this.words)
      .pipe(
        debounceTime(settleMillis),
        distinctUntilChanged(),
        switchMap((q) =>
          q.trim() === ''
            ? of({ rows: [] as ContactRow[] })
            : this.api
                .call('listContacts', { query: { q, limit: 8 } })
                .pipe(catchError(() => of({ rows: [] as ContactRow[] }))),
        ),
        takeUntilDestroyed(),
      )
      .subscribe(({ rows }) => {
        this.found.set(rows);
        this.chosen.set(0);
      });
  }

  protected onKey(event: KeyboardEvent): void {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      const step = event.key === 'ArrowDown' ? 1 : -1;
      this.chosen.update((at) => Math.max(0, Math.min(this.found().length - 1, at + step)));
    }
    const row = this.found()[this.chosen()];
    if (event.key === 'Enter' && row) this.take(row);
    if (event.key === 'Escape') this.box().nativeElement.blur();
  }

  protected take(row: ContactRow): void {
    this.opened.open({ kind: 'contact', id: row.id });
    this.words.set('');
    this.box().nativeElement.blur();
  }
}
