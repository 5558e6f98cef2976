import { inject, type Signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import type { AbstractControl } from '@angular/forms';
import { catchError, debounceTime, map, of, switchMap } from 'rxjs';
import { Api } from '../../api/api';

const settleMillis = 150;
const mostProposed = 8;

/**
 * Names of known companies like the one that is being typed, so that nobody makes a second one by another spelling.
 * @example protected readonly companies = companyNames(this.form.controls.companyName);
 */
export function companyNames(control: AbstractControl<string>): Signal<readonly string[]> {
  const api = inject(Api);
  return toSignal(
    control.valueChanges.pipe(
      debounceTime(settleMillis),
      switchMap((typed) => {
        const q = typed.trim();
        if (q === '') return of([]);
        return api.call('listCompanies', { query: { q, limit: mostProposed } }).pipe(
          map(({ rows }) => rows.map(({ name }) => name)),
          catchError(() => of([])),
        );
      }),
    ),
    { initialValue: [] },
  );
}
