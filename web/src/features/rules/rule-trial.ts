import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { RuleTrial } from '@kettle/contract';
import { CountPipe, DayPipe } from '../../kit/say.pipes';

/** What a rule would have done, with the records. */
@Component({
  selector: 'kettle-rule-trial',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CountPipe, DayPipe, RouterLink],
  template: `
    <section aria-labelledby="rule-trial">
      <h4 i18n id="rule-trial">In the last 90 days, by what records are today</h4>
      <p role="status">
        <b>{{ trial().count | count: texts.times }}</b>
        @if (trial().count > 0) {
          &ngsp;
          <span i18n class="soft">{{ trial().mostADay }} on the day with most of them</span>
        }
        @if (trial().isCut) {
          &ngsp;
          <span i18n class="soft">More happened than was looked at.</span>
        }
      </p>
      <ul>
        @for (each of trial().records; track $index) {
          <li class="line">
            <a [routerLink]="each.path">{{ each.name }}</a>
            <span class="soft">{{ each.on | day }}</span>
            <span class="soft">{{ each.because }}</span>
          </li>
        }
      </ul>
    </section>
  `,
  styleUrls: ['../programs/programs.scss'],
})
export class RuleTrialPart {
  protected readonly texts = { times: $localize`time|times` };
  readonly trial = input.required<RuleTrial>();
}
