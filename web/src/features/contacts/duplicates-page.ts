import { PhonePipe } from '../../kit/phone.pipe';
import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import type { LikelyPair } from '@kettle/contract';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { Pick } from '../../kit/pick';
import { CountPipe, MomentPipe } from '../../kit/say.pipes';
import { Empty, Failed, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { Notices } from '../../services/notices';
import { SelectedRecord } from '../../services/selected-record';
import { PeopleTabs } from './people-tabs';
import { WordPipe } from '../../kit/value-words';

/** Pairs of contacts that are likely one, with the evidence; merges of the last days, to take apart again. */
@Component({
  selector: 'kettle-duplicates-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    WordPipe,
    PhonePipe,
    Pick,
    MatButtonModule,
    PeopleTabs,
    Empty,
    Failed,
    Waiting,
    CountPipe,
    MomentPipe,
  ],
  template: `
    <div class="page">
      <div class="page-head">
        <kettle-people-tabs />
        <span class="grow"></span>
        @if (pairs.value(); as found) {
          <span i18n class="soft" role="status">
            {{ found.pairs.length | count: texts.likelyPairs }} · {{ found.dismissed }} found to be two
          </span>
        }
      </div>
      @if (pairs.value(); as found) {
        <ul>
          @for (pair of found.pairs; track pair.one.id + pair.other.id) {
            <li class="pair">
              <span class="likeness" [class.now]="pair.likeness === 'certain'">
                {{ pair.likeness | word }}
              </span>
              @for (each of [pair.one, pair.other]; track each.id) {
                <span>
                  <button kit-pick class="pick" (click)="selected.open({ kind: 'contact', id: each.id })">
                    {{ each.name }}
                  </button>
                  <span class="soft">
                    {{ each.companyName }} · {{ each.email }} · {{ each.phone ?? '' | phone }} ·
                    {{ each.ownerName ?? texts.nobodyS }}
                  </span>
                </span>
              }
              <span class="why soft">
                @for (why of pair.evidence; track $index) {
                  {{ why.words }}
                  @if (!$last) {
                    ·
                  }
                }
              </span>
              <span class="acts">
                <button i18n matButton="outlined" type="button" (click)="merge(pair)">Merge</button>
                <button i18n matButton type="button" (click)="dismiss(pair)">they are two</button>
              </span>
            </li>
          }
        </ul>
        @if (found.pairs.length === 0) {
          <kettle-empty i18n title="No likely pairs" i18n-title>
            Nobody here looks like somebody else. Duplicates are also warned of while you type and when a file
            comes in.
          </kettle-empty>
        }
      } @else {
        <kettle-waiting />
      }
      @if (pairs.state(); as state) {
        @if (state.kind === 'failed') {
          <kettle-failed [problem]="state.problem" (again)="pairs.again()" />
        }
      }
      @if ((merges.value()?.merges ?? []).length > 0) {
        <h2 i18n>Made one in the last 30 days</h2>
        <ul>
          @for (merge of merges.value()?.merges ?? []; track merge.id) {
            <li class="spread">
              <span i18n>
                <b>{{ merge.goneName }}</b>
                went into
                <b>{{ merge.keptName }}</b>
                <span class="soft">· {{ merge.at | moment }} · {{ merge.by }}</span>
              </span>
              <button i18n matButton type="button" (click)="undo(merge.id)">take apart again</button>
            </li>
          }
        </ul>
      }
    </div>
  `,
  styles: `
    .pair {
      display: grid;
      grid-template-columns: 60px 1fr 1fr auto;
      gap: 2px var(--space-4);
      align-items: baseline;
      padding-block: 9px;
      border-block-end: 1px solid var(--hairline);
    }
    .pair > span {
      display: grid;
      justify-items: start;
    }
    .pair .soft {
      margin-inline-start: 0;
    }
    .why {
      grid-column: 2 / 4;
      grid-row: 2;
    }
    .pair > .acts {
      grid-column: 4;
      grid-row: 1 / 3;
      justify-items: end;
      gap: 2px;
    }
    .pick {
      font-weight: 600;
    }
    h2 {
      padding-block: var(--space-5) var(--space-2);
    }
    @media (width < 900px) {
      .pair {
        grid-template-columns: 1fr;
      }
      .pair > span,
      .pair > .acts,
      .why {
        grid-column: 1;
        grid-row: auto;
        justify-items: start;
      }
    }
  `,
})
export class DuplicatesPage {
  protected readonly texts = {
    likelyPairs: $localize`likely pair|likely pairs`,
    nobodyS: $localize`nobody’s`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  protected readonly selected = inject(SelectedRecord);
  protected readonly pairs = reading((_: null) => this.api.call('listPairs'));
  protected readonly merges = reading((_: null) => this.api.call('listMerges'));

  constructor() {
    this.pairs.read(null);
    this.merges.read(null);
    inject(ChangeStream)
      .of('contact')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.again());
  }

  protected async merge(pair: LikelyPair): Promise<void> {
    const { MergeDialog } = await import('./merge-dialog');
    this.dialog
      .open(MergeDialog, {
        data: { oneId: pair.one.id, otherId: pair.other.id },
        width: '640px',
        maxWidth: '96vw',
      })
      .afterClosed()
      .subscribe((merged: { mergeId: string; name: string } | undefined) => {
        if (!merged) return;
        this.again();
        this.notices.say($localize`${merged.name}:name:: contacts merged.`, () => this.undo(merged.mergeId));
      });
  }

  protected dismiss(pair: LikelyPair): void {
    this.api.call('dismissPair', { body: { oneId: pair.one.id, otherId: pair.other.id } }).subscribe({
      next: () => this.again(),
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected undo(id: string): void {
    this.api.call('undoMerge', { params: { id } }).subscribe({
      next: () => {
        this.again();
        this.notices.say($localize`Undone: both contacts are back.`);
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  private again(): void {
    this.pairs.again();
    this.merges.again();
  }
}
