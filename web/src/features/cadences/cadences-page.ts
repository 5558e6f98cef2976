import { tableParts } from '../../kit/table';
import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { CadenceSummary } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { sayCount } from '@kettle/core/locale';
import { sayMinute } from '@kettle/core/time';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { Failed, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { SelectedRecord } from '../../services/selected-record';
import { WaitingWordings } from '../wordings/index';
import { Stave } from './stave';

/** The cadences with their counts; the chosen one drawn as a stave with its steps in words. */
@Component({
  selector: 'kettle-cadences-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [tableParts, MatButtonModule, Stave, RouterLink, Failed, Waiting, WaitingWordings],
  templateUrl: './cadences-page.html',
  styleUrl: './cadences-page.scss',
})
export class CadencesPage {
  protected readonly texts = {
    hideThem: $localize`hide them`,
    showThem: $localize`show them`,
  };

  private readonly api = inject(Api);
  protected readonly selected = inject(SelectedRecord);
  readonly cadence = input<string>();

  protected readonly labels = channelLabel;
  protected readonly list = reading((_: null) => this.api.call('listCadences'));
  protected readonly withRetired = signal(false);
  protected readonly shown = computed(() =>
    (this.list.value()?.cadences ?? []).filter((each) => this.withRetired() || !each.isRetired),
  );
  protected readonly retired = computed(
    () => (this.list.value()?.cadences ?? []).filter((each) => each.isRetired).length,
  );
  protected readonly isOpen = ({ id }: CadenceSummary): boolean => id === this.chosen()?.id;
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
    return reached === 0 ? '—' : $localize`${cadence.answered}:answered: of ${reached}:reached:`;
  }

  protected wait(days: number, index: number): string {
    if (index === 0)
      return days === 0
        ? $localize`on the day of the start`
        : $localize`${sayCount(days, $localize`working day|working days`)} after the start`;
    return $localize`${sayCount(days, $localize`working day|working days`)}:days: after step ${index}:index:`;
  }

  protected window(start: number, end: number): string {
    return $localize`${sayMinute(start)}:start: to ${sayMinute(end)}:end: in their zone`;
  }
}
