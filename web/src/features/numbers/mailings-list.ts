import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import type { ReportMailing } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { ChangeStream } from '../../services/change-stream';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';

/** Reports that I have sent each Monday. */
@Component({
  selector: 'kettle-mailings-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIcon],
  template: `
    @if (mailings().length > 0) {
      <h2 i18n>Sent each Monday</h2>
      <ul>
        @for (each of mailings(); track each.id) {
          <li>
            <span>
              {{ each.name }}
              <span class="soft">{{ namesOf(each) }}</span>
            </span>
            <button
              matIconButton
              type="button"
              (click)="remove(each)"
              [attr.aria-label]="texts.remove(each.name)"
            >
              <mat-icon svgIcon="close" />
            </button>
          </li>
        }
      </ul>
    }
  `,
  styles: `
    h2 {
      padding-block: var(--space-3) 2px;
    }
    li {
      display: flex;
      justify-content: space-between;
      gap: var(--space-2);
    }
    li > span {
      display: grid;
      min-inline-size: 0;
      overflow-wrap: anywhere;
    }
  `,
})
export class MailingsList {
  protected readonly texts = {
    remove: (name: string) => $localize`No longer send ${name}:name:`,
  };

  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly read = reading((_: null) => this.api.call('listReportMailings'));
  protected readonly mailings = computed(() => this.read.value()?.mailings ?? []);

  constructor() {
    this.read.read(null);
    inject(ChangeStream)
      .of('view')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.read.again());
  }

  protected namesOf({ words, to }: ReportMailing): string {
    return `${words} · ${to.map(({ name }) => name).join(', ')}`;
  }

  protected remove({ id, name }: ReportMailing): void {
    const changeId = v7();
    this.api.call('removeReportMailing', { params: { id } }, changeId).subscribe({
      next: () => {
        this.read.again();
        this.undo.offer($localize`“${name}:name:” is no longer sent.`, changeId, () => this.read.again());
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
