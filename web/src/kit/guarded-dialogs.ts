import { afterNextRender, inject, Injectable, Injector } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatDialog, type MatDialogRef } from '@angular/material/dialog';
import { filter, firstValueFrom, merge } from 'rxjs';

/** A field that must be filled in and is empty carries only the class. */
const wrongFields = '[aria-invalid="true"], .mat-form-field-invalid :is(input, textarea, mat-select)';
/** How long after sending a field that turns out wrong gets the focus. */
const answerMillis = 15_000;

/**
 * What holds for every dialog: Escape and a press beside it ask first when something was typed, and what was sent and is refused puts the
 * focus on the first field that is wrong. Woken by the first act of a person, before which no dialog opens.
 */
@Injectable({ providedIn: 'root' })
export class GuardedDialogs {
  readonly dialog = inject(MatDialog);

  constructor() {
    const injector = inject(Injector);
    // Told when it is made; it is drawn a moment later. One may be open before this has come.
    merge(this.dialog.openDialogs, this.dialog.afterOpened)
      .pipe(takeUntilDestroyed())
      .subscribe((opened) => afterNextRender({ read: () => this.guard(opened) }, { injector }));
  }

  private guard(opened: MatDialogRef<unknown>): void {
    const container = document.getElementById(opened.id);
    if (container === null) return;
    container.addEventListener('submit', () => focusFirstWrong(container));
    // Some ask in their own way, or cannot be left at all.
    if (opened.disableClose === true) return;
    opened.disableClose = true;
    let isTyped = false;
    let isAsking = false;
    container.addEventListener('input', () => (isTyped = true));
    const escapes = opened.keydownEvents().pipe(filter(({ key }) => key === 'Escape'));
    const ask = async () => {
      if (isAsking) return;
      isAsking = true;
      if (await this.discards()) opened.close();
      isAsking = false;
    };
    merge(escapes, opened.backdropClick()).subscribe((event) => {
      event.preventDefault();
      if (isTyped) void ask();
      else opened.close();
    });
  }

  private async discards(): Promise<boolean> {
    const { DiscardDialog } = await import('./discard-dialog');
    const asked = this.dialog.open<unknown, unknown, boolean>(DiscardDialog, { width: '360px' });
    return (await firstValueFrom(asked.afterClosed())) === true;
  }
}

/** Whatever says that a field is wrong, here at once or in the server's answer, the first of them is gone to. */
function focusFirstWrong(container: HTMLElement): void {
  const go = (): boolean => {
    const wrong = container.querySelector<HTMLElement>(wrongFields);
    wrong?.focus();
    return wrong !== null;
  };
  const observer = new MutationObserver(() => {
    if (go()) observer.disconnect();
  });
  observer.observe(container, { subtree: true, attributeFilter: ['aria-invalid', 'class'] });
  setTimeout(() => observer.disconnect(), answerMillis);
}
