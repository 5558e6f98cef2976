import { effect, inject, untracked } from '@angular/core';
import type { FormGroup } from '@angular/forms';
import type { Observable } from 'rxjs';
import { v7 } from 'uuid';
import { type Reading, reading } from '../api/reading';
import { Undo } from '../services/undo';
import type { RecordForm } from './record-form';

interface Kept<Stored extends object, Body extends object> {
  read(): Observable<Stored>;
  save(body: Body, changeId: string): Observable<Stored>;
  /** What is sent; the stored settings with the form's values over them, unless it is said. */
  body?(stored: Stored): Body;
  /** How the form is filled with what is stored, where its controls are not those of the settings. */
  fill?(stored: Stored): void;
  /** What is said when it is saved. */
  readonly saved: string;
  /** What is read again once it is saved or undone. */
  after?(): void;
}

/**
 * Settings that are read, filled into a form and saved as a whole, with an undo. Made where injection works.
 * @example
 * protected readonly settings = keptSettings(this.form, {
 *   read: () => this.api.call('mailSettings'),
 *   save: (body, changeId) => this.api.call('changeMailSettings', { body }, changeId),
 *   saved: 'Saved: mail goes out like this from now on.',
 * });
 */
export function keptSettings<Stored extends object, Body extends object = Stored>(
  form: FormGroup & Pick<RecordForm, 'send'>,
  kept: Kept<Stored, Body>,
): { readonly stored: Reading<null, Stored>; save(): void } {
  const undo = inject(Undo);
  const stored = reading((_: null) => kept.read());
  const fill = kept.fill ?? ((now: Stored) => form.patchValue(now));
  stored.read(null);
  effect(() => {
    const now = stored.value();
    if (now !== null) untracked(() => fill(now));
  });
  const again = () => {
    stored.again();
    kept.after?.();
  };
  const bodyOf = kept.body ?? ((now: Stored) => ({ ...now, ...form.getRawValue() }) as unknown as Body);
  return {
    stored,
    save: () => {
      const now = stored.value();
      if (now === null) return;
      const changeId = v7();
      form.send(
        bodyOf(now),
        (body) => kept.save(body, changeId),
        (next) => {
          stored.put(next);
          kept.after?.();
          undo.offer(kept.saved, changeId, again);
        },
      );
    },
  };
}
