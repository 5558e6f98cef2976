import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { Company } from '@kettle/contract';
import { companyPlain } from '@kettle/contract/base/catalogues';
import { CurrentUser } from '../../services/current-user';
import { PeopleWords, plainFacts } from '../fields/index';

/** A company's sites, each with address, country and zone, and what else is known of it. */
@Component({
  selector: 'kettle-company-facts',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <dl>
      @for (site of company().sites; track $index) {
        <dt>{{ site.name }}</dt>
        <dd>
          {{ addressOf(site) }}
          <span i18n class="soft">
            {{ site.country }} · {{ site.zone }} · now {{ user.timeOf(user.now(), site.zone) }}
          </span>
        </dd>
      }
      @for (fact of plain(); track fact.name) {
        <dt>{{ fact.name }}</dt>
        <dd>{{ fact.words }}</dd>
      }
      @for (fact of words.customFacts('company', company().custom); track fact.name) {
        <dt>{{ fact.name }}</dt>
        <dd>{{ fact.words }}</dd>
      }
    </dl>
    @if (mayChange()) {
      <button i18n matButton="outlined" type="button" (click)="edit.emit()">Change</button>
    }
  `,
  styles: `
    dl {
      display: grid;
      grid-template-columns: 92px 1fr;
      gap: 6px var(--space-3);
      padding-block-end: var(--space-3);
    }
    dt {
      color: var(--text-soft);
    }
    dd {
      display: grid;
      white-space: pre-line;
    }
  `,
})
export class CompanyFacts {
  protected readonly user = inject(CurrentUser);
  protected readonly words = inject(PeopleWords);
  readonly company = input.required<Company>();
  readonly mayChange = input(true);
  readonly edit = output();
  /** What trade they are in is in the head already. */
  protected readonly plain = computed(() =>
    plainFacts(companyPlain, this.company(), { today: this.user.today(), without: ['trade'] }),
  );

  protected addressOf(site: Company['sites'][number]): string {
    return [site.street, [site.postcode, site.city].filter(Boolean).join(' ')].filter(Boolean).join(', ');
  }
}
