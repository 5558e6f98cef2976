import { Directive, effect, ElementRef, inject, input } from '@angular/core';
import { MatTooltip } from '@angular/material/tooltip';

/**
 * A button, or a box to tick, that would do nothing just now stays where it can be reached and says why: when it is pointed at, focused or pressed, and to a
 * screen reader. What is pressed then does not happen.
 * @example <button matButton="filled" [kettleWhyNot]="text() ? null : 'Write something first.'" (click)="save()">Save</button>
 */
@Directive({
  selector: 'button[kettleWhyNot], mat-checkbox[kettleWhyNot]',
  hostDirectives: [MatTooltip],
  host: {
    '[attr.aria-disabled]': "kettleWhyNot() === null ? null : 'true'",
    '[class.why-not]': 'kettleWhyNot() !== null',
  },
})
export class WhyNot {
  private readonly tooltip = inject(MatTooltip);
  /** What stands in the way, as a sentence that says what to do; null when nothing does. */
  readonly kettleWhyNot = input.required<string | null>();

  constructor() {
    this.tooltip.showDelay = 300;
    // Before any other listener, the form's own included.
    inject<ElementRef<HTMLElement>>(ElementRef).nativeElement.addEventListener(
      'click',
      (event) => {
        if (this.kettleWhyNot() === null) return;
        event.preventDefault();
        event.stopImmediatePropagation();
        this.tooltip.show(0);
      },
      { capture: true },
    );
    effect(() => {
      this.tooltip.message = this.kettleWhyNot() ?? '';
    });
  }
}
