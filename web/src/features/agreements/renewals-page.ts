import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  untracked,
} from '@angular/core';
import { NgTemplateOutlet } from '@angular/common';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import type { AgreementRow, CallOf, RenewalWindow } from '@kettle/contract';
import { renewalWindowLabel } from '@kettle/contract/agreements/labels';
import { daysBetween } from '@kettle/core/time';
import { RouterLink } from '@angular/router';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { Pick } from '../../kit/pick';
import { CountPipe, DayPipe, MoneyPipe } from '../../kit/say.pipes';
import { Empty, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { SelectedRecord } from '../../services/selected-record';
import { PeopleWords } from '../fields/index';
import { gridParts, GridStore, GridView, provideGrid } from '../grid/index';
import { AgreementsGrid } from './agreements-grid';
import { axisOf, type AxisRow } from './axis';
import { RenewPicked } from './renew-picked';
import { RetentionPanel } from './retention-panel';
import { StakePanel } from './stake-panel';
import { WordPipe } from '../../kit/value-words';

/**
 * Agreements along a twelve-month axis: the running term, the time to talk, and the notice deadline; or as a list; what is at stake by month;
 * and how much stays. Windows say where agreements are on their way to the next term.
 */
@Component({
  selector: 'kettle-renewals-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { class: 'whole' },
  imports: [
    ...[WordPipe, CountPipe, gridParts, Pick, MatButtonModule, DayPipe, MoneyPipe, Empty, Waiting],
    ...[NgTemplateOutlet, RenewPicked, RetentionPanel, RouterLink, StakePanel],
  ],
  providers: [provideGrid(AgreementsGrid)],
  templateUrl: './renewals-page.html',
  styleUrl: './renewals-page.scss',
})
export class RenewalsPage {
  protected readonly texts = {
    agreements: $localize`agreement|agreements`,
    timeToTalkFrom: (leadOn: string | number, noticeDeadlineOn: string | number, endsOn: string | number) =>
      $localize`time to talk from ${leadOn}:leadOn:, notice until ${noticeDeadlineOn}:noticeDeadlineOn:, term ends ${endsOn}:endsOn:`,
    noArchivedAgreement: $localize`No archived agreement`,
    noAgreementHere: $localize`No agreement here`,
  };

  private readonly api = inject(Api);
  protected readonly user = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);
  protected readonly store = inject<GridStore<AgreementRow>>(GridStore);
  protected readonly view = inject<GridView<AgreementRow>>(GridView);

  /** The view, kept in the address. */
  readonly as = input<string>();
  readonly window = input<RenewalWindow>();
  readonly owner = input<'mine' | 'all'>();
  readonly archived = input<'yes'>();
  readonly q = input<string>();
  readonly filter = input<string>();
  readonly sort = input<string>();
  readonly group = input<string>();
  readonly cols = input<string>();
  protected readonly shapes = ['timeline', 'list', 'at stake', 'retention'] as const;
  protected readonly shape = computed(() => this.shapes.find((each) => each === this.as()) ?? 'timeline');
  protected readonly isList = computed(() => this.shape() === 'list');
  /** What is added up shows every agreement: no window, no search. */
  protected readonly isSummed = computed(() => this.shape() === 'at stake' || this.shape() === 'retention');
  protected readonly windowLabel = renewalWindowLabel;
  protected readonly ahead = reading((owner: 'mine' | 'all') =>
    this.api.call('readRenewals', { query: { owner } }),
  );

  protected readonly agreements = reading((query: CallOf<'listAgreements'>['query']) =>
    this.api.call('listAgreements', { query }),
  );
  protected readonly axis = computed(() => axisOf(this.agreements.value()?.rows ?? [], this.user.today()));
  protected readonly yearly = computed(() =>
    this.axis().rows.reduce(
      // What is over brings nothing until it is renewed.
      (sum, { agreement, yearlyHomeMinor }) =>
        sum + (agreement.state === 'over' ? 0 : (yearlyHomeMinor ?? 0)),
      0,
    ),
  );

  protected readonly unvalued = computed(
    () => this.axis().rows.filter(({ yearlyHomeMinor }) => yearlyHomeMinor === null).length,
  );

  constructor() {
    inject(PeopleWords).wake();
    this.view.follow(
      computed(() => ({
        as: this.as(),
        window: this.window(),
        owner: this.owner(),
        archived: this.archived(),
        q: this.q(),
        filter: this.filter(),
        sort: this.sort(),
        group: this.group(),
        cols: this.cols(),
      })),
    );
    effect(() => {
      const { group: _, ...query } = this.view.query();
      untracked(() => this.agreements.read(query as unknown as CallOf<'listAgreements'>['query']));
    });
    effect(() => {
      const owner = this.owner() ?? 'mine';
      untracked(() => this.ahead.read(owner));
    });
    inject(ChangeStream)
      .of('agreement')
      .pipe(takeUntilDestroyed())
      .subscribe(() => {
        this.agreements.again();
        this.ahead.again();
      });
  }

  protected isPressing(row: AxisRow): boolean {
    if (row.agreement.state === 'over') return true;
    const days = daysBetween(this.user.today(), row.agreement.noticeDeadlineOn);
    return row.agreement.decision === 'open' && days >= 0 && row.agreement.leadOn <= this.user.today();
  }

  protected show(window: RenewalWindow): void {
    this.selected.setQuery({
      window: this.window() === window ? null : window,
      as: this.isSummed() ? null : (this.as() ?? null),
    });
  }
}
