import { sayCount } from '@kettle/core/locale';
import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { Contact } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';

/** How often somebody was tried and answered, channel by channel: "2 calls unanswered · Calls answered: 5 of 10". */
@Component({
  selector: 'kettle-answer-line',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: '{{ words() }}',
  styles: `
    :host {
      display: block;
      color: var(--text-soft);
    }
    :host:empty {
      display: none;
    }
  `,
})
export class AnswerLine {
  readonly attempts = input.required<Contact['attempts']>();
  readonly answers = input.required<Contact['answers']>();
  protected readonly words = computed(() =>
    [
      ...this.attempts().map(({ channel, tries }) => {
        const label = channelLabel[channel].toLowerCase();
        return $localize`${sayCount(tries, `${label}|${label}s`)} unanswered`;
      }),
      ...this.answers().map(
        ({ channel, answered, tried }) =>
          $localize`${channelLabel[channel]}:channelLabel:s answered: ${answered}:answered: of ${tried}:tried:`,
      ),
    ].join(' · '),
  );
}
