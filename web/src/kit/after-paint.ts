import { afterNextRender, DestroyRef, inject, PendingTasks, type Signal, signal } from '@angular/core';

/**
 * False until what is there has been painted: what lies below the fold of a long dialog is made after that, so that the dialog is there at
 * once. Made where injection works.
 */
export function afterPaint(): Signal<boolean> {
  const isPainted = signal(false);
  const done = inject(PendingTasks).add();
  inject(DestroyRef).onDestroy(done);
  afterNextRender(() =>
    requestAnimationFrame(() =>
      setTimeout(() => {
        isPainted.set(true);
        done();
      }),
    ),
  );
  return isPainted;
}
