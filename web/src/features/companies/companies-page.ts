import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { CompanyRow } from '@kettle/contract';
import { Empty, Waiting } from '../../kit/states';
import { SelectedRecord } from '../../services/selected-record';
import { PeopleTabs } from '../contacts/index';
import { PeopleWords } from '../fields/index';
import { gridParts, GridStore, GridView, provideGrid } from '../grid/index';
import { CompaniesGrid } from './companies-grid';

/** Companies, with what of their people and deals counts. */
@Component({
  selector: 'kettle-companies-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { class: 'whole' },
  imports: [gridParts, MatButtonModule, PeopleTabs, Empty, Waiting],
  providers: [provideGrid(CompaniesGrid)],
  template: `
    <div class="page list-page">
      <div class="page-head">
        <kettle-people-tabs />
        <kettle-grid-search placeholder="Company or town" i18n-placeholder />
      </div>
      <kettle-grid-tools>
        <div class="words" role="group" aria-label="Which companies" i18n-aria-label>
          <button
            i18n
            matButton
            type="button"
            [attr.aria-pressed]="owner() === 'mine'"
            (click)="selected.setQuery({ owner: owner() === 'mine' ? null : 'mine' })"
            class="word"
          >
            mine
          </button>
          <button
            i18n
            matButton
            type="button"
            [attr.aria-pressed]="archived() === 'yes'"
            (click)="selected.setQuery({ archived: archived() === 'yes' ? null : 'yes' })"
            class="word"
          >
            archived
          </button>
        </div>
        <ng-container picked><kettle-give-picked kind="company" /></ng-container>
      </kettle-grid-tools>
      @if (store.lines().length > 0) {
        <kettle-record-grid />
      } @else if (store.isReady()) {
        <kettle-empty
          [title]="q() ? texts.noCompanyMatches : archived() ? texts.noArchivedCompany : texts.noCompaniesYet"
        >
          @if (archived()) {
            <ng-container i18n>Archive a company from the menu beside its name.</ng-container>
          } @else if (view.hasFilter()) {
            <ng-container i18n>
              The filter hides all of them.
              <button matButton type="button" (click)="view.showAll()">Show all</button>
            </ng-container>
          } @else {
            <ng-container i18n>A company is made with its first person, by hand or from a file.</ng-container>
          }
        </kettle-empty>
      } @else if (!store.problem()) {
        <kettle-waiting />
      }
      <kettle-list-failed [problem]="store.problem()" (again)="store.again()" />
    </div>
  `,
})
export class CompaniesPage {
  protected readonly texts = {
    noCompanyMatches: $localize`No company matches`,
    noArchivedCompany: $localize`No archived company`,
    noCompaniesYet: $localize`No companies yet`,
  };

  protected readonly store = inject<GridStore<CompanyRow>>(GridStore);
  protected readonly view = inject<GridView<CompanyRow>>(GridView);
  protected readonly selected = inject(SelectedRecord);

  /** The view, kept in the address. */
  readonly q = input<string>();
  readonly sort = input<string>();
  readonly group = input<string>();
  readonly cols = input<string>();
  readonly filter = input<string>();
  readonly owner = input<'mine'>();
  readonly archived = input<'yes'>();

  constructor() {
    inject(PeopleWords).wake();
    this.view.follow(
      computed(() => ({
        q: this.q(),
        sort: this.sort(),
        group: this.group(),
        cols: this.cols(),
        filter: this.filter(),
        owner: this.owner(),
        archived: this.archived(),
      })),
    );
  }
}
