import { AriaDescriber } from '@angular/cdk/a11y';
import { afterNextRender, DestroyRef, Directive, ElementRef, inject, input } from '@angular/core';
import { Keys, sayKeys } from '../services/keys';
import { LateTooltip } from './late-tooltip';

/**
 * A button that has a key: the key and what it does are shown when it is pointed at or focused, and told to a screen reader. What it does
 * is said once, where the key is bound. Nothing is shown on touch.
 * @example <button matButton kettleKey="t" (click)="planTask()">Task</button> // "Plan a task with whoever is open (T)"
 */
@Directive({
  selector: '[kettleKey]',
  providers: [LateTooltip],
  host: {
    '[attr.aria-keyshortcuts]': 'spoken()',
    '(pointerenter)': 'say()',
  },
})
export class KeyHint {
  private readonly tooltip = inject(LateTooltip);
  private readonly describer = inject(AriaDescriber);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly keys = inject(Keys);
  /** As it is bound: `t`, `g r`, `$mod+s`; empty where it has none just now. */
  readonly kettleKey = input.required<string>();
  private words = '';

  constructor() {
    afterNextRender(() => this.say());
    inject(DestroyRef).onDestroy(() => this.describer.removeDescription(this.element, this.words, 'tooltip'));
  }

  /** WAI-ARIA 1.2, aria-keyshortcuts: one key with its modifiers, or none for two pressed one after the other. */
  protected spoken(): string | null {
    const keys = this.kettleKey();
    return keys === '' || keys.includes(' ') ? null : keys.replace('$mod', 'Control');
  }

  /** Asked late: the page that binds the key may come after the frame. */
  protected say(): void {
    const bound = this.keys.list().find(({ keys }) => keys === this.kettleKey());
    const words = bound ? `${bound.words} (${sayKeys(bound.keys).join(' ')})` : '';
    if (words === this.words) return;
    this.describer.removeDescription(this.element, this.words, 'tooltip');
    this.describer.describe(this.element, words, 'tooltip');
    this.words = words;
    this.tooltip.say(words);
  }
}
