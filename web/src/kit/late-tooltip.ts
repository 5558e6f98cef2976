import { DestroyRef, ElementRef, inject, Injectable, Injector, runInInjectionContext } from '@angular/core';
import type { MatTooltip } from '@angular/material/tooltip';

/** How long an element is pointed at before its tooltip shows. */
const showMillis = 500;

/**
 * Material's tooltip of the element it is provided at; it comes when the element is first pointed at or focused, not with the page. What it says
 * is known to a screen reader before: whoever uses it describes the element.
 */
@Injectable()
export class LateTooltip {
  private readonly injector = inject(Injector);
  private readonly destroyRef = inject(DestroyRef);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private tooltip: Promise<MatTooltip | null> | undefined;
  private words = '';

  constructor() {
    const { element } = this;
    let isOver = false;
    // Once it is there, it sees by itself when it is pointed at.
    element.addEventListener('pointerenter', ({ pointerType }) => {
      if (pointerType === 'touch' || this.tooltip !== undefined) return;
      isOver = true;
      void this.get().then((tooltip) => isOver && tooltip?.show());
    });
    element.addEventListener('pointerleave', () => (isOver = false));
    element.addEventListener('focus', () => void this.get(), { once: true });
  }

  say(words: string): void {
    this.words = words;
    void this.tooltip?.then((tooltip) => {
      if (tooltip !== null) tooltip.message = words;
    });
  }

  private get(): Promise<MatTooltip | null> {
    return (this.tooltip ??= this.make());
  }

  /** The directive is made as the element's own would have been: it asks the element's injector for all it needs. */
  private async make(): Promise<MatTooltip | null> {
    const { MatTooltip } = await import('@angular/material/tooltip');
    // The element may be gone meanwhile.
    if (this.destroyRef.destroyed) return null;
    const tooltip = runInInjectionContext(this.injector, () => new MatTooltip());
    // Nothing is shown on touch.
    tooltip.touchGestures = 'off';
    tooltip.showDelay = showMillis;
    tooltip.message = this.words;
    tooltip.ngAfterViewInit();
    this.destroyRef.onDestroy(() => tooltip.ngOnDestroy());
    return tooltip;
  }
}
