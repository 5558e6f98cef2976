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
import type { SearchHit } from '@kettle/contract';
import {
  catchError,
  debounceTime,
  distinctUntilChanged,
  map,
  type Observable,
  of,
  startWith,
  switchMap,
  combineLatest,
} from 'rxjs';
import { Api } from '../api/api';
import { BareInput } from '../kit/bare-input';
import { Keys } from '../services/keys';
import { SelectedRecord, type RecordRef } from '../services/selected-record';

const settleMillis = 120;
const notesSettleMillis = 350;

/** Finds anything from anywhere: people, firms, deals by name, address or number; what was written a moment later. */
@Component({
  selector: 'kettle-search-box',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [BareInput, MatIcon],
  template: `
    <mat-icon svgIcon="search" aria-hidden="true" />
    <input
      kit-bare
      #box
      autocomplete="off"
      type="search"
      placeholder="Find anything"
      aria-label="Find anything"
      role="combobox"
      [attr.aria-controls]="isListed() ? 'found-hits' : null"
      [attr.aria-expanded]="isListed()"
      [attr.aria-activedescendant]="isListed() && found().length > 0 ? 'found-' + chosen() : null"
      [value]="words()"
      (input)="words.set(box.value); isOpen.set(true)"
      (keydown)="onKey($event)"
      (blur)="isOpen.set(false)"
    />
    <kbd>/</kbd>
    @if (isListed()) {
      <ul id="found-hits" role="listbox" aria-label="Found">
        @for (hit of found(); track hit.kind + hit.id) {
          <li
            role="option"
            [id]="'found-' + $index"
            [attr.aria-selected]="$index === chosen()"
            (mousedown)="take(hit)"
          >
            <mat-icon
              [svgIcon]="icons[hit.kind]"
              [attr.aria-label]="hit.kind"
              aria-hidden="false"
              role="img"
            />
            <b>{{ hit.title }}</b>
            <span class="soft">{{ hit.words }}</span>
          </li>
        } @empty {
          <li class="soft" role="option" aria-disabled="true" aria-selected="false">
            {{ isReading() ? 'Looking …' : 'Nothing found' }}
          </li>
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
      inset-inline-end: 0;
      inline-size: max(100%, 380px);
      max-inline-size: 92vw;
      z-index: 10;
      max-block-size: 70vh;
      overflow: auto;
      border: 1px solid var(--hairline);
      border-radius: var(--radius);
      background: var(--sheet);
      color: var(--text);
    }
    li {
      display: grid;
      grid-template-columns: 16px 1fr;
      gap: 0 8px;
      padding: 6px 10px;
      cursor: pointer;
    }
    li .soft {
      grid-column: 2;
      font-size: var(--text-small);
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    li[aria-disabled] {
      grid-template-columns: 1fr;
    }
    li[aria-selected='true'],
    li:hover {
      background: var(--link-wash);
    }
  `,
})
export class SearchBox {
  private readonly api = inject(Api);
  private readonly selected = inject(SelectedRecord);
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  protected readonly icons = { contact: 'person', company: 'company', deal: 'deal', note: 'note' };
  protected readonly words = signal('');
  protected readonly isOpen = signal(false);
  protected readonly isReading = signal(false);
  protected readonly found = signal<readonly SearchHit[]>([]);
  protected readonly chosen = signal(0);
  protected readonly isListed = computed(() => this.isOpen() && this.words().trim() !== '');

  constructor() {
    inject(Keys).bind({ keys: '/', words: 'Find anything', act: () => this.box().nativeElement.select() });
    const typed = toObservable(this.words).pipe(distinctUntilChanged());
    combineLatest([this.hits(typed, 'names', settleMillis), this.hits(typed, 'notes', notesSettleMillis)])
      .pipe(takeUntilDestroyed())
      .subscribe(([names, notes]) => {
        this.isReading.set(names === null);
        const before = this.found()[this.chosen()];
        const found = [...(names ?? this.found().filter((hit) => hit.kind !== 'note')), ...(notes ?? [])];
        this.found.set(found);
        // What was chosen stays chosen while more is found below it.
        this.chosen.set(
          Math.max(
            0,
            found.findIndex((hit) => hit.id === before?.id),
          ),
        );
      });
  }

  /** Hits of one sort for what is typed; null while they are looked for. */
  private hits(
    typed: Observable<string>,
    among: 'names' | 'notes',
    settle: number,
  ): Observable<readonly SearchHit[] | null> {
    return typed.pipe(
      debounceTime(settle),
      switchMap((q) =>
        q.trim() === ''
          ? of([])
          : this.api.call('search', { query: { q, among } }).pipe(
              map(({ hits }) => hits),
              catchError(() => of([])),
              startWith(null),
            ),
      ),
      startWith([]),
    );
  }

  protected onKey(event: KeyboardEvent): void {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      const step = event.key === 'ArrowDown' ? 1 : -1;
      this.chosen.update((at) => Math.max(0, Math.min(this.found().length - 1, at + step)));
    }
    const hit = this.found()[this.chosen()];
    if (event.key === 'Enter' && hit) this.take(hit);
    if (event.key === 'Escape') this.box().nativeElement.blur();
  }

  protected take(hit: SearchHit): void {
    const record = recordOf(hit);
    if (record !== null) this.selected.open(record);
    this.words.set('');
    this.found.set([]);
    this.box().nativeElement.blur();
  }
}

/** What a hit opens: itself, or whom the note is about. */
function recordOf(hit: SearchHit): RecordRef | null {
  if (hit.kind !== 'note') return { kind: hit.kind, id: hit.id };
  if (hit.contactId !== null) return { kind: 'contact', id: hit.contactId };
  if (hit.dealId !== null) return { kind: 'deal', id: hit.dealId };
  return hit.companyId === null ? null : { kind: 'company', id: hit.companyId };
}
