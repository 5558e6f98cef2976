import { DestroyRef, inject, type OutputEmitterRef } from '@angular/core';

/**
 * Tells of something as long as its part is shown: what is undone later, or answered late, may come when whoever would listen is gone.
 * Made where things are injected.
 * @example
 * readonly done = output();
 * private readonly tellDone = tellLater(this.done);
 */
export function tellLater(told: OutputEmitterRef<void>): () => void {
  const shown = inject(DestroyRef);
  return () => {
    if (!shown.destroyed) told.emit();
  };
}
