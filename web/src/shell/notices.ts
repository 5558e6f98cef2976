import { inject, Injectable } from '@angular/core';
import { MatSnackBar } from '@angular/material/snack-bar';
import { problemOf } from '../api/api';

const shownMillis = 6000;

/** One line at the foot of the screen: what was done, with a way back, or what went wrong. */
@Injectable({ providedIn: 'root' })
export class Notices {
  private readonly bar = inject(MatSnackBar);

  say(words: string, undo?: () => void): void {
    const shown = this.bar.open(words, undo ? 'Undo' : undefined, { duration: shownMillis });
    if (undo) shown.onAction().subscribe(undo);
  }

  problem(error: unknown): void {
    this.bar.open(problemOf(error).message, 'Close', { duration: shownMillis * 2, politeness: 'assertive' });
  }
}
