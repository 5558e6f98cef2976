import { inject, Injectable, Injector } from '@angular/core';
import type { MatSnackBar, MatSnackBarRef, TextOnlySnackBar } from '@angular/material/snack-bar';
import { Api, problemOf } from '../api/api';

const shownMillis = 6000;

/** One line at the foot of the screen: what was done, with a way back, or what went wrong. What shows it comes with the first line. */
@Injectable({ providedIn: 'root' })
export class Notices {
  private readonly api = inject(Api);
  private readonly injector = inject(Injector);
  /** Lines come up in the order they were said in. */
  private said: Promise<unknown> = Promise.resolve();
  /** The line on screen whose act can be undone. */
  private back: MatSnackBarRef<TextOnlySnackBar> | null = null;

  say(words: string, undo?: () => void): void {
    this.show((bar) => {
      const shown = bar.open(words, undo ? $localize`Undo` : undefined, { duration: shownMillis });
      this.back = undo ? shown : null;
      if (!undo) return;
      shown.onAction().subscribe(undo);
      shown.afterDismissed().subscribe(() => {
        if (this.back === shown) this.back = null;
      });
    });
  }

  /**
   * Undoes what the line on screen says was done, as its button does. What was asked for and is still on its way comes first:
   * a quick hand undoes what it did last, not what it did before that.
   */
  async undoLast(): Promise<void> {
    await this.api.settled();
    await this.said;
    this.back?.dismissWithAction();
  }

  problem(error: unknown): void {
    this.show((bar) => {
      this.back = null;
      bar.open(problemOf(error).message, $localize`Close`, {
        duration: shownMillis * 2,
        politeness: 'assertive',
      });
    });
  }

  private show(open: (bar: MatSnackBar) => void): void {
    this.said = Promise.all([this.bar(), this.said]).then(([bar]) => open(bar));
  }

  private async bar(): Promise<MatSnackBar> {
    const { MatSnackBar } = await import('@angular/material/snack-bar');
    return this.injector.get(MatSnackBar);
  }
}
