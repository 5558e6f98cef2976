import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { Round, RoundRow } from '@kettle/contract';
import { sayDate } from '@kettle/core/time';
import { formParts, type Option, RecordForm } from '../../kit/form';
import { DayPipe } from '../../kit/say.pipes';
import { CurrentUser } from '../../services/current-user';

export interface MoveAsked {
  readonly rows: readonly RoundRow[];
  /** Days of the Round, today first. */
  readonly days: Round['days'];
}

export interface MovedRow {
  readonly row: RoundRow;
  readonly to: string;
}

const stays = '';

/** Where several rows go, and what each of these days comes to. A row can get another day, or stay. Answers with those that move. */
@Component({
  selector: 'kettle-move-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts, DayPipe, MatButtonModule],
  template: `
    <kettle-dialog-form
      [title]="texts.title(moved().length)"
      act="Move"
      i18n-act
      [form]="form"
      [isReady]="moved().length > 0"
      (save)="dialog.close(moved())"
    >
      <div class="spread">
        <kettle-choice-field
          class="day"
          label="All of them to"
          i18n-label
          [value]="null"
          (valueChange)="all($event)"
          [options]="choices"
        />
        @if (usual.size > 0) {
          <button i18n matButton type="button" (click)="to.set(usual)">to the days proposed</button>
        }
      </div>
      <ul class="loads" aria-label="What the days come to" i18n-aria-label>
        @for (day of loads(); track day.on) {
          <li>
            <b>{{ day.on | day }}</b>
            <span i18n class="num soft">{{ day.planned }} min planned + {{ day.added }}</span>
            <span class="num" [class.now]="day.left < 0">
              {{ day.left < 0 ? texts.tooMany(-day.left) : texts.left(day.left) }}
            </span>
          </li>
        } @empty {
          <li i18n class="soft">Nothing moves yet.</li>
        }
      </ul>
      <ul class="rows" aria-label="Rows" i18n-aria-label>
        @for (row of asked.rows; track row.key) {
          <li>
            <span>
              <b>{{ row.contactName }}</b>
              <span class="soft">{{ row.purpose }}</span>
              @if (row.askToKeep) {
                <span i18n class="now">moved three times or more</span>
              }
            </span>
            <span i18n class="num soft">{{ row.minutes }} min</span>
            <kettle-choice-field
              [label]="none"
              [ariaLabel]="texts.dayOf(row.contactName)"
              [value]="to().get(row.key) ?? none"
              (valueChange)="put(row, $event)"
              [options]="choices"
            />
          </li>
        }
      </ul>
    </kettle-dialog-form>
  `,
  styles: `
    ul {
      margin: 0;
      padding: 0;
      list-style: none;
    }
    li {
      display: grid;
      grid-template-columns: minmax(0, 1fr) auto 190px;
      align-items: center;
      gap: 2px var(--space-3);
      padding-block: 4px;
      border-block-end: 1px solid var(--hairline);
    }
    .day {
      inline-size: 190px;
    }
    .loads .num {
      text-align: end;
    }
    @media (width < 600px) {
      .rows li {
        grid-template-columns: minmax(0, 1fr) auto;
      }
      .rows kettle-choice-field {
        grid-column: 1 / -1;
      }
      .loads li {
        grid-template-columns: minmax(0, 1fr) auto;
      }
      .loads b {
        grid-column: 1 / -1;
      }
    }
  `,
})
export class MoveDialog {
  protected readonly texts = {
    title: (count: number) => (count === 1 ? $localize`Move 1 row` : $localize`Move ${count}:count: rows`),
    left: (minutes: number) => $localize`${minutes}:minutes: min left`,
    tooMany: (minutes: number) => $localize`${minutes}:minutes: min too many`,
    dayOf: (name: string) => $localize`Day for ${name}:name:`,
  };

  protected readonly dialog = inject<MatDialogRef<MoveDialog, MovedRow[]>>(MatDialogRef);
  private readonly user = inject(CurrentUser);
  protected readonly asked = inject<MoveAsked>(MAT_DIALOG_DATA);
  protected readonly form = new RecordForm({});
  protected readonly none = stays;
  private readonly days = this.asked.days.slice(1);
  protected readonly choices: readonly Option<string>[] = [
    { value: stays, words: $localize`stays for today` },
    ...this.days.map(({ on, freeMinutes }) => ({
      value: on,
      words: $localize`${sayDate(on, this.user.today())}:day:, ${freeMinutes}:minutes: free`,
    })),
  ];
  /** The proposed days; what was moved often enough stays until somebody says otherwise. */
  protected readonly usual: ReadonlyMap<string, string> = new Map(
    this.asked.rows.flatMap(({ key, moveTo, askToKeep }) =>
      moveTo === null || askToKeep ? [] : [[key, moveTo] as const],
    ),
  );
  protected readonly to = signal(this.usual);
  protected readonly moved = computed(() =>
    this.asked.rows.flatMap((row): MovedRow[] => {
      const to = this.to().get(row.key);
      return to === undefined ? [] : [{ row, to }];
    }),
  );
  protected readonly loads = computed(() =>
    this.days.flatMap(({ on, plannedMinutes: planned, freeMinutes }) => {
      const rows = this.moved().filter(({ to }) => to === on);
      const added = rows.reduce((sum, { row }) => sum + row.minutes, 0);
      return rows.length === 0 ? [] : [{ on, planned, added, left: freeMinutes - added }];
    }),
  );

  protected put(row: RoundRow, day: string | null): void {
    const to = new Map(this.to());
    to.delete(row.key);
    if (day) to.set(row.key, day);
    this.to.set(to);
  }

  protected all(day: string | null): void {
    if (day === null) return;
    this.to.set(new Map(day === stays ? [] : this.asked.rows.map(({ key }) => [key, day])));
  }
}
