import { computed, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { SearchHit } from '@kettle/contract';
import {
  catchError,
  combineLatest,
  debounceTime,
  distinctUntilChanged,
  map,
  type Observable,
  of,
  startWith,
  switchMap,
} from 'rxjs';
import { Api } from '../../api/api';
import type { RecordRef } from '../../services/selected-record';

const settleMillis = 120;
const notesSettleMillis = 350;

/** Finds what is typed: people, companies and deals by name, address or number at once, what was written a moment later. */
@Injectable()
export class Finding {
  private readonly api = inject(Api);
  readonly words = signal('');
  readonly isReading = signal(false);
  readonly found = signal<readonly SearchHit[]>([]);
  readonly chosen = signal(0);
  readonly hasWords = computed(() => this.words().trim() !== '');
  readonly icons = { contact: 'person', company: 'company', deal: 'deal', note: 'note' } as const;

  constructor() {
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

  step(by: number): void {
    this.chosen.update((at) => Math.max(0, Math.min(this.found().length - 1, at + by)));
  }

  clear(): void {
    this.words.set('');
    this.found.set([]);
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
}

/** What a hit opens: itself, or whom the note is about. */
export function recordOf(hit: SearchHit): RecordRef | null {
  if (hit.kind !== 'note') return { kind: hit.kind, id: hit.id };
  if (hit.contactId !== null) return { kind: 'contact', id: hit.contactId };
  if (hit.dealId !== null) return { kind: 'deal', id: hit.dealId };
  return hit.companyId === null ? null : { kind: 'company', id: hit.companyId };
}
