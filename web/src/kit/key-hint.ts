import { afterNextRender, Directive, inject, input } from '@angular/core';
import { MatTooltip } from '@angular/material/tooltip';
import { Keys, sayKeys } from '../services/keys';

/**
 * A button that has a key: the key and what it does are shown when it is pointed at or focused, and told to a screen reader. What it does
 * is said once, where the key is bound. Nothing is shown on touch.
 * @example <button matButton kettleKey="t" (click)="planTask()">Task</button> // "Plan a task with whoever is open (T)"
 */
@Directive({
  selector: '[kettleKey]',
  hostDirectives: [MatTooltip],
  host: {
    '[attr.aria-keyshortcuts]': 'spoken()',
    '(pointerenter)': 'say()',
  },
})
export class KeyHint {
  private readonly tooltip = inject(MatTooltip);
  private readonly keys = inject(Keys);
  /** As it is bound: `t`, `g r`, `$mod+s`; empty where it has none just now. */
  readonly kettleKey = input.required<string>();

  constructor() {
    this.tooltip.touchGestures = 'off';
    this.tooltip.showDelay = 500;
    afterNextRender(() => this.say());
  }

  /** WAI-ARIA 1.2, aria-keyshortcuts: one key with its modifiers, or none for two pressed one after the other. */
  protected spoken(): string | null {
    const keys = this.kettleKey();
    return keys === '' || keys.includes(' ') ? null : keys.replace('$mod', 'Control');
  }

  /** Asked late: the page that binds the key may come after the frame. */
  protected say(): void {
    const bound = this.keys.list().find(({ keys }) => keys === this.kettleKey());
    this.tooltip.message = bound ? `${bound.words} (${sayKeys(bound.keys).join(' ')})` : '';
  }
}
