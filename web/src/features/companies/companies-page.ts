import {
  ChangeDetectionStrategy,
  Component,
  effect,
  inject,
  input,
  linkedSignal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import type { CallOf } from '@kettle/contract';
import { debounceTime, distinctUntilChanged } from 'rxjs';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { fieldParts } from '../../kit/field';
import { Pick } from '../../kit/pick';
import { DayPipe, MoneyPipe } from '../../kit/say.pipes';
import { Empty, Failed, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { Keys } from '../../services/keys';
import { SelectedRecord } from '../../services/selected-record';
import { PeopleTabs } from '../contacts/index';

const settleMillis = 160;

/** Companies by name, with what of their people and deals counts. */
@Component({
  selector: 'kettle-companies-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Pick, fieldParts, MatButtonModule, PeopleTabs, Empty, Failed, Waiting, DayPipe, MoneyPipe],
  template: `
    <div class="page">
      <div class="page-head">
        <kettle-people-tabs />
        <mat-form-field class="small search">
          <input
            matInput
            #search
            type="search"
            placeholder="Firm or town"
            aria-label="Search companies"
            [value]="typed()"
            (input)="typed.set(search.value)"
          />
        </mat-form-field>
        <div class="words" role="group" aria-label="Which companies">
          <button
            matButton
            type="button"
            [attr.aria-pressed]="archived() === 'yes'"
            (click)="selected.setQuery({ archived: archived() === 'yes' ? null : 'yes' })"
            class="word"
          >
            archived
          </button>
        </div>
        <span class="grow"></span>
        @if (list.value(); as page) {
          <span class="soft" role="status">
            {{ page.found }} found
            @if (page.total > page.found) {
              · the search hides {{ page.total - page.found }}
              <button matButton type="button" (click)="typed.set('')">show all</button>
            }
          </span>
        }
      </div>
      @if (list.value(); as page) {
        <table class="list">
          <thead>
            <tr>
              <th>name</th>
              <th>trade</th>
              <th>town</th>
              <th>owner</th>
              <th class="num">people</th>
              <th class="num">open deals</th>
              <th class="num">open value</th>
              <th>last touch</th>
            </tr>
          </thead>
          <tbody>
            @for (row of page.rows; track row.id) {
              <tr [class.chosen]="selected.record()?.id === row.id">
                <td>
                  <button kit-pick class="pick" (click)="selected.open({ kind: 'company', id: row.id })">
                    {{ row.name }}
                  </button>
                </td>
                <td>{{ row.trade }}</td>
                <td>{{ row.city }}</td>
                <td class="soft">{{ row.ownerName ?? 'nobody' }}</td>
                <td class="num">{{ row.people }}</td>
                <td class="num">{{ row.openDeals || '' }}</td>
                <td class="num">
                  @if (row.openValueMinor > 0) {
                    {{ row.openValueMinor | money }}
                  }
                </td>
                <td>
                  @if (row.lastTouchAt) {
                    {{ user.dateOf(row.lastTouchAt) | day: 'short' }}
                  }
                </td>
              </tr>
            }
          </tbody>
        </table>
        @if (page.rows.length === 0) {
          <kettle-empty
            [title]="q() ? 'No company matches' : archived() ? 'No archived company' : 'No companies yet'"
          >
            @if (archived()) {
              Archive a company from the menu beside its name.
            } @else {
              A company is made with its first person, by hand or from a file.
            }
          </kettle-empty>
        }
        @if (page.found > page.rows.length) {
          <p class="soft">The first {{ page.rows.length }} are shown; search for the others.</p>
        }
      } @else {
        <kettle-waiting />
      }
      @if (list.state(); as state) {
        @if (state.kind === 'failed') {
          <kettle-failed [problem]="state.problem" (again)="list.again()" />
        }
      }
    </div>
  `,
  styles: `
    .page {
      max-inline-size: none;
    }
    .search {
      inline-size: 240px;
    }
    .pick {
      font-weight: 600;
    }
    table.list td:first-child,
    table.list th:first-child {
      padding-inline-start: 10px;
    }
    td {
      white-space: nowrap;
    }
    tr.chosen {
      background: var(--sheet);
      box-shadow: inset 3px 0 0 var(--link);
    }
    @media (width < 900px) {
      th:nth-child(n + 4),
      td:nth-child(n + 4) {
        display: none;
      }
    }
  `,
})
export class CompaniesPage {
  private readonly api = inject(Api);
  protected readonly selected = inject(SelectedRecord);
  protected readonly user = inject(CurrentUser);
  readonly q = input<string>();
  readonly archived = input<'yes'>();
  protected readonly typed = linkedSignal(() => this.q() ?? '');
  protected readonly list = reading((query: CallOf<'listCompanies'>['query']) =>
    this.api.call('listCompanies', { query: { ...query, limit: 300 } }),
  );

  constructor() {
    effect(() => {
      const query = { q: this.q() ?? '', archived: this.archived() };
      untracked(() => this.list.read(query));
    });
    toObservable(this.typed)
      .pipe(debounceTime(settleMillis), distinctUntilChanged(), takeUntilDestroyed())
      .subscribe((words) => {
        if (words !== (this.q() ?? '')) this.selected.setQuery({ q: words || null });
      });
    inject(ChangeStream)
      .of('company', 'contact', 'deal', 'journal')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.list.again());
    inject(Keys).bind(
      { keys: 'ArrowDown', words: 'Next company', act: () => this.step(1) },
      { keys: 'ArrowUp', words: 'Company before', act: () => this.step(-1) },
    );
  }

  private step(by: number): void {
    const rows = this.list.value()?.rows ?? [];
    const at = rows.findIndex((row) => row.id === this.selected.record()?.id);
    const next = rows[Math.max(0, Math.min(rows.length - 1, at + by))];
    if (next) this.selected.open({ kind: 'company', id: next.id });
  }
}
