import { inject, Injectable, Injector } from '@angular/core';
import type { MatSnackBar, MatSnackBarRef, TextOnlySnackBar } from '@angular/material/snack-bar';
import { problemOf } from '../api/api';

const shownMillis = 6000;

/** One line at the foot of the screen: what was done, with a way back, or what went wrong. What shows it comes with the first line. */
@Injectable({ providedIn: 'root' })
export class Notices {
  private readonly injector = inject(Injector);
  /** The line on screen whose act can be undone. */
  private back: MatSnackBarRef<TextOnlySnackBar> | null = null;

  say(words: string, undo?: () => void): void {
    void this.bar().then((bar) => {
      const shown = bar.open(words, undo ? $localize`Undo` : undefined, { duration: shownMillis });
      this.back = undo ? shown : null;
      if (!undo) return;
      shown.onAction().subscribe(undo);
      shown.afterDismissed().subscribe(() => {
        if (this.back === shown) this.back = null;
      });
    });
  }

  /** Takes back what the line on screen says was done, as its button does. */
  undoLast(): void {
    this.back?.dismissWithAction();
  }

  problem(error: unknown): void {
    void this.bar().then((bar) =>
      bar.open(problemOf(error).message, $localize`Close`, {
        duration: shownMillis * 2,
        politeness: 'assertive',
      }),
    );
  }

  private async bar(): Promise<MatSnackBar> {
    const { MatSnackBar } = await import('@angular/material/snack-bar');
    return this.injector.get(MatSnackBar);
  }
}
