import { Directive, ElementRef, inject, input } from '@angular/core';
import type { OwnWord } from './glossary';

/**
 * Says on hover what one of our own words means; the meanings are read when somebody asks for the first.
 * @example <h1 kettleWord="Round">Today’s Round</h1>
 */
@Directive({
  selector: '[kettleWord]',
  host: { '(mouseenter)': 'explain()', '(focusin)': 'explain()' },
})
export class ExplainedWord {
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  readonly kettleWord = input.required<OwnWord>();

  protected async explain(): Promise<void> {
    if (this.host.title !== '') return;
    const { glossary } = await import('./glossary');
    this.host.title = `${this.kettleWord()}: ${glossary[this.kettleWord()]}`;
  }
}
