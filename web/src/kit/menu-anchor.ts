import { afterNextRender, Directive, ElementRef, inject } from '@angular/core';
import { MatMenuTrigger } from '@angular/material/menu';

/**
 * Where a menu opens that comes when its button is pressed: it lies over the button beside it, opens the menu as soon as it is there, and
 * gives the focus back to the button.
 * @example
 * <span class="at"><button (click)="menu()?.open()">…</button> @defer (when isAsked()) { <kettle-user-menu /> }</span>
 */
@Directive({
  selector: '[kettleMenuAnchor]',
  hostDirectives: [{ directive: MatMenuTrigger, inputs: ['matMenuTriggerFor: kettleMenuAnchor'] }],
  host: {
    style: 'position: absolute; inset: 0; pointer-events: none',
    'aria-hidden': 'true',
    '[attr.aria-haspopup]': 'null',
    '[attr.aria-expanded]': 'null',
    '[attr.aria-controls]': 'null',
  },
})
export class MenuAnchor {
  private readonly trigger = inject(MatMenuTrigger);

  constructor() {
    const at = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
    this.trigger.restoreFocus = false;
    this.trigger.menuClosed.subscribe(() => at.closest('.at')?.querySelector<HTMLElement>('button')?.focus());
    afterNextRender(() => this.open());
  }

  open(): void {
    this.trigger.openMenu();
  }
}
