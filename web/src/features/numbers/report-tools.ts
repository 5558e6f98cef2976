import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatMenuModule } from '@angular/material/menu';
import type { AskReport } from '@kettle/contract';
import { reportFiles } from '@kettle/contract/numbers/kinds';
import { reportFileLabel, reportLabel, reportPeriodLabel } from '@kettle/contract/numbers/labels';
import { reportAddress } from '@kettle/core/numbers';
import { firstValueFrom } from 'rxjs';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { LateDialog } from '../../kit/late-dialog';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';

/** What is done with a report as a whole: taken as a file, sent on, pinned to Home. */
@Component({
  selector: 'kettle-report-tools',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatMenuModule],
  template: `
    @if (user.mayExport()) {
      <button i18n matButton type="button" [matMenuTriggerFor]="files">export</button>
      <mat-menu #files="matMenu">
        @for (each of links(); track each.as) {
          <a mat-menu-item [href]="each.path" [download]="each.name">{{ each.words }}</a>
        }
      </mat-menu>
    }
    <button i18n matButton type="button" (click)="mail()">send by mail</button>
    <button i18n matButton type="button" (click)="pin()">pin to Home</button>
  `,
})
export class ReportTools {
  private readonly api = inject(Api);
  private readonly dialog = inject(LateDialog);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  protected readonly user = inject(CurrentUser);
  readonly asked = input.required<AskReport>();

  protected readonly links = computed(() => {
    const asked = this.asked();
    const query = new URLSearchParams(
      Object.entries(asked).filter((pair): pair is [string, string] => pair[1] !== undefined),
    );
    return reportFiles.map((as) => ({
      as,
      words: reportFileLabel[as],
      name: `${asked.kind}.${as}`,
      path: `/api/numbers/report/file?${query.toString()}&as=${as}`,
    }));
  });
  private readonly name = computed(() => {
    const { kind, period } = this.asked();
    return `${reportLabel[kind]} ${reportPeriodLabel[period]}`;
  });

  protected async mail(): Promise<void> {
    const { MailDialog } = await import('./mail-dialog');
    await this.dialog.open(MailDialog, {
      data: { report: this.asked(), name: this.name() },
      width: '440px',
    });
  }

  /** Its view is saved, if it is not yet, and a card of it put first on Home. */
  protected async pin(): Promise<void> {
    const query = reportAddress(this.asked());
    try {
      const { views } = await firstValueFrom(this.api.call('listViews', { query: { place: 'numbers' } }));
      const view =
        views.find((each) => each.query === query) ??
        (await firstValueFrom(
          this.api.call('saveView', {
            body: { place: 'numbers', name: this.free(views.map(({ name }) => name)), query },
          }),
        ));
      const home = await firstValueFrom(this.api.call('readHome'));
      const changeId = v7();
      const card = { id: v7(), kind: 'view', width: 2, whose: 'mine', viewId: view.id, as: 'chart' } as const;
      const body = { cards: [card, ...home.cards], version: home.version };
      await firstValueFrom(this.api.call('arrangeHome', { body }, changeId));
      this.undo.offer($localize`“${view.name}:name:” is the first card on Home.`, changeId);
    } catch (error) {
      this.notices.problem(error);
    }
  }

  /** A name that no other view has. */
  private free(taken: readonly string[]): string {
    const name = this.name().slice(0, 56);
    if (!taken.includes(name)) return name;
    for (let n = 2; ; n += 1) if (!taken.includes(`${name} ${n}`)) return `${name} ${n}`;
  }
}
