import { Injectable } from '@angular/core';

const idleMillis = 5 * 60_000;
const signs = ['pointerdown', 'pointermove', 'keydown', 'wheel', 'touchstart'] as const;

/** Whether somebody is at the screen: moved, pressed or typed something a few minutes ago at most. */
@Injectable({ providedIn: 'root' })
export class Presence {
  private seenAt = performance.now();

  constructor() {
    for (const sign of signs)
      window.addEventListener(sign, () => (this.seenAt = performance.now()), {
        passive: true,
        capture: true,
      });
  }

  isIdle(): boolean {
    return performance.now() - this.seenAt > idleMillis;
  }
}
