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
import { CountPipe, DayPipe, MoneyPipe } from '../../kit/say.pipes';
import { Empty, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { SelectedRecord } from '../../services/selected-record';
import { PeopleWords } from '../fields/index';
import { gridParts, GridStore, GridView, provideGrid } from '../grid/index';
import { AgreementsGrid } from './agreements-grid';
import { axisOf, type AxisRow } from './axis';
import { WordPipe } from '../../kit/value-words';

/** Agreements along a twelve-month axis: the running term, the time to talk, and the notice deadline; or as a list. */
@Component({
  selector: 'kettle-renewals-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { class: 'whole' },
  imports: [WordPipe, CountPipe, gridParts, Pick, MatButtonModule, DayPipe, MoneyPipe, Empty, Waiting],
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
  readonly owner = input<'mine' | 'all'>();
  readonly archived = input<'yes'>();
  readonly q = input<string>();
  readonly filter = input<string>();
  readonly sort = input<string>();
  readonly group = input<string>();
  readonly cols = input<string>();
  protected readonly shapes = ['timeline', 'list'] as const;
  protected readonly isList = computed(() => this.as() === 'list');

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
    inject(PeopleWords).wake();
    this.view.follow(
      computed(() => ({
        as: this.as(),
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
