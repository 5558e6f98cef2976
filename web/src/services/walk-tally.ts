import { computed, inject, Injectable, signal } from '@angular/core';
import { Drafts } from './drafts';

/** One that was done in a walk. */
export interface Walked {
  /** Of the log. */
  readonly id: string;
  readonly name: string;
  readonly outcome: string;
  readonly counts: 'conversation' | 'attempt' | 'none';
  readonly plannedMinutes: number;
  /** Null when nobody knows: written, or logged later. */
  readonly takenMinutes: number | null;
}

interface Tally {
  readonly walked: readonly Walked[];
  readonly moved: number;
}

const key = 'walk-tally';
const nothing: Tally = { walked: [], moved: 0 };

/** What came of the walk so far: kept on this machine, so that a reload loses nothing of it. */
@Injectable({ providedIn: 'root' })
export class WalkTally {
  private readonly drafts = inject(Drafts);
  private readonly kept = signal<Tally>(this.drafts.readForm<Tally>(key) ?? nothing);

  readonly walked = computed(() => this.kept().walked);
  readonly moved = computed(() => this.kept().moved);

  /** Another walk begins. */
  begin(): void {
    this.keep(nothing);
  }

  add(walked: Walked): void {
    const others = this.kept().walked.filter(({ id }) => id !== walked.id);
    this.keep({ ...this.kept(), walked: [...others, walked] });
  }

  /** It was undone. */
  remove(id: string): void {
    this.keep({ ...this.kept(), walked: this.kept().walked.filter((each) => each.id !== id) });
  }

  addMoved(): void {
    this.keep({ ...this.kept(), moved: this.kept().moved + 1 });
  }

  private keep(tally: Tally): void {
    this.kept.set(tally);
    this.drafts.keepForm(key, tally);
  }
}
