import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatDialog } from '@angular/material/dialog';
import { RouterLink } from '@angular/router';
import type { CadenceSummary } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { sayCount, sayMinute } from '@kettle/core/time';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { Failed, Waiting } from '../../design/states';
import { ChangeStream } from '../../shell/change-stream';
import { Opened } from '../../shell/opened';
import { Stave } from './stave';

/** The cadences with their counts; the chosen one drawn as a stave with its steps in words. */
@Component({
  selector: 'kettle-cadences-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Stave, RouterLink, Failed, Waiting],
  templateUrl: './cadences-page.html',
  styleUrl: './cadences-page.scss',
})
export class CadencesPage {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  protected readonly opened = inject(Opened);
  readonly cadence = input<string>();

  protected readonly labels = channelLabel;
  protected readonly list = reading((_: null) => this.api.call('listCadences'));
  protected readonly chosen = computed((): CadenceSummary | null => {
    const all = this.list.value()?.cadences ?? [];
    return all.find((each) => each.id === this.cadence()) ?? all[0] ?? null;
  });

  constructor() {
    this.list.read(null);
    inject(ChangeStream)
      .of('cadence', 'run')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.list.again());
  }

  /** Share of ended and running people who answered; null when nobody has been on it. */
  protected answeredOf(cadence: CadenceSummary): string {
    const reached = cadence.running + cadence.finished + cadence.stopped;
    return reached === 0 ? '—' : `${cadence.answered} of ${reached}`;
  }

  protected wait(days: number, index: number): string {
    if (index === 0)
      return days === 0 ? 'on the day of the start' : `${sayCount(days, 'working day')} after the start`;
    return `${sayCount(days, 'working day')} after step ${index}`;
  }

  protected window(start: number, end: number): string {
    return `${sayMinute(start)} to ${sayMinute(end)} in their zone`;
  }

  protected async make(): Promise<void> {
    const { CadenceDialog } = await import('./cadence-dialog');
    this.dialog
      .open(CadenceDialog, { width: '760px', maxWidth: '96vw' })
      .afterClosed()
      .subscribe((made: CadenceSummary | undefined) => {
        if (made) this.opened.setQuery({ cadence: made.id });
      });
  }
}
