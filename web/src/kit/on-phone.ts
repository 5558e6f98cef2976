import { BreakpointObserver } from '@angular/cdk/layout';
import { inject, type Signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { map } from 'rxjs';

/** Below it lists are cards, the bar is at the bottom and one hand does it all; the same width is in the stylesheets. */
const phone = '(width < 700px)';

/** Whether the page is as narrow as a phone's. */
export function onPhone(): Signal<boolean> {
  const seen = inject(BreakpointObserver)
    .observe(phone)
    .pipe(map(({ matches }) => matches));
  return toSignal(seen, { initialValue: false });
}
