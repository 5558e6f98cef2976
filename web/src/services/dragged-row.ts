import { Injectable, signal } from '@angular/core';
import type { RoundRow } from '@kettle/contract';

/** The row of the Round that is being dragged; what it can be let go over takes it from here. */
@Injectable({ providedIn: 'root' })
export class DraggedRow {
  readonly row = signal<RoundRow | null>(null);
}
