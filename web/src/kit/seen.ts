import { DestroyRef, Directive, ElementRef, inject, output } from '@angular/core';

/** So far below the screen what is coming is read already. */
const ahead = '600px';

/** Tells when its element comes near what is seen, each time it does: the end of a list reads on. */
@Directive({ selector: '[kettleSeen]' })
export class Seen {
  readonly seen = output();

  constructor() {
    if (typeof IntersectionObserver === 'undefined') return;
    const observer = new IntersectionObserver(
      (entries) => {
        if (entries.some(({ isIntersecting }) => isIntersecting)) this.seen.emit();
      },
      { rootMargin: ahead },
    );
    observer.observe(inject<ElementRef<HTMLElement>>(ElementRef).nativeElement);
    inject(DestroyRef).onDestroy(() => observer.disconnect());
  }
}
