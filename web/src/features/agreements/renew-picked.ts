import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Router } from '@angular/router';
import type { AgreementRow } from '@kettle/contract';
import { Api, problemOf } from '../../api/api';
import { Notices } from '../../services/notices';
import { GridPicks } from '../grid/index';

const mostTogether = 20;

/** Begins one renewal for several agreements of a customer, so that they come to one day. */
@Component({
  selector: 'kettle-renew-picked',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
  template: `
    @if (canRenew()) {
      <button i18n matButton="outlined" type="button" (click)="renew()">Renew together</button>
    }
  `,
})
export class RenewPicked {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  private readonly picks = inject<GridPicks<AgreementRow>>(GridPicks);
  protected readonly canRenew = computed(
    () =>
      !this.picks.isAll() &&
      !this.picks.areOthers() &&
      this.picks.count() > 1 &&
      this.picks.count() <= mostTogether,
  );

  protected renew(): void {
    const agreementIds = this.picks.rows().map(({ id }) => id);
    this.api.call('openRenewal', { body: { agreementIds } }).subscribe({
      next: ({ dealId }) => {
        this.picks.none();
        void this.router.navigate(['/deals', dealId]);
      },
      error: (error: unknown) => {
        const [why] = problemOf(error).fields;
        if (why === undefined) this.notices.problem(error);
        else this.notices.say($localize`Not begun: what you picked ${why.message}:why:`);
      },
    });
  }
}
