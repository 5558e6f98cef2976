import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import type { AgreementRow, CallOf } from '@kettle/contract';
import { daysBetween } from '@kettle/core/time';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { Pick } from '../../kit/pick';
import { DayPipe, MoneyPipe } from '../../kit/say.pipes';
import { Empty, Failed, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { SelectedRecord } from '../../services/selected-record';
import { axisOf, type AxisRow } from './axis';

/** Agreements along a twelve-month axis: the running term, the time to talk, and the notice deadline. */
@Component({
  selector: 'kettle-renewals-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Pick, MatButtonModule, DayPipe, MoneyPipe, Empty, Failed, Waiting],
  templateUrl: './renewals-page.html',
  styleUrl: './renewals-page.scss',
})
export class RenewalsPage {
  private readonly api = inject(Api);
  protected readonly user = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);
  readonly owner = input<'mine' | 'all'>();
  readonly archived = input<'yes'>();

  protected readonly agreements = reading((query: CallOf<'listAgreements'>['query']) =>
    this.api.call('listAgreements', { query }),
  );
  protected readonly axis = computed(() => axisOf(this.agreements.value()?.rows ?? [], this.user.today()));
  protected readonly yearly = computed(() =>
    this.axis().rows.reduce((sum, row) => sum + (row.yearlyHomeMinor ?? 0), 0),
  );

  protected readonly unvalued = computed(
    () => this.axis().rows.filter(({ yearlyHomeMinor }) => yearlyHomeMinor === null).length,
  );

  constructor() {
    effect(() => {
      const query = { owner: this.owner() ?? 'mine', archived: this.archived() };
      untracked(() => this.agreements.read(query));
    });
    inject(ChangeStream)
      .of('agreement')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.agreements.again());
  }

  protected isPressing(row: AxisRow): boolean {
    const days = daysBetween(this.user.today(), row.agreement.noticeDeadlineOn);
    return days >= 0 && row.agreement.leadOn <= this.user.today();
  }

  protected open({ contactId }: AgreementRow): void {
    if (contactId !== null) this.selected.open({ kind: 'contact', id: contactId });
  }
}
