import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { RouterLink } from '@angular/router';

/** Deals, leads and invoices: rooms of one place. */
@Component({
  selector: 'kettle-deal-tabs',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink],
  template: `
    <h1 class="visually-hidden">{{ texts[at()] }}</h1>
    <nav class="words" aria-label="Deals, leads and invoices" i18n-aria-label>
      <a i18n routerLink="/deals" [attr.aria-current]="at() === 'deals' ? 'page' : null">Deals</a>
      <a i18n routerLink="/deals/leads" [attr.aria-current]="at() === 'leads' ? 'page' : null">Leads</a>
      <a i18n routerLink="/invoices" [attr.aria-current]="at() === 'invoices' ? 'page' : null">Invoices</a>
    </nav>
  `,
  styles: `
    .words {
      gap: var(--space-3);
    }
    .words a {
      font-size: var(--text-title);
      font-weight: 650;
      letter-spacing: -0.01em;
    }
    .words a:hover {
      text-decoration: none;
    }
  `,
})
export class DealTabs {
  protected readonly texts = {
    deals: $localize`Deals`,
    leads: $localize`Leads`,
    invoices: $localize`Invoices`,
  };

  readonly at = input.required<'deals' | 'leads' | 'invoices'>();
}
