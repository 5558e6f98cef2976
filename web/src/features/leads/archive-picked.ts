import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { LeadId } from '@kettle/contract';
import { sayCount } from '@kettle/core/locale';
import { firstValueFrom } from 'rxjs';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { GridPicks, GridStore } from '../grid/index';

const mostAtOnce = 500;

/** Archives the picked leads, or takes them out again. */
@Component({
  selector: 'kettle-archive-picked',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
  template: `
    @if (!picks.areOthers() && picks.count() <= most) {
      <button matButton="outlined" type="button" (click)="archive()">
        {{ isArchived() ? texts.out : texts.archive }}
      </button>
    }
  `,
})
export class ArchivePicked {
  protected readonly texts = { archive: $localize`Archive`, out: $localize`Out of the archive` };
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly store = inject(GridStore);
  protected readonly picks = inject(GridPicks);
  protected readonly most = mostAtOnce;
  /** Whether the list shows archived ones. */
  readonly isArchived = input.required<boolean>();

  protected async archive(): Promise<void> {
    const changeId = v7();
    const isArchived = !this.isArchived();
    try {
      const ids = this.picks.isAll() ? await firstValueFrom(this.store.ids()) : [...this.picks.ids()];
      const body = { ids: ids as LeadId[], isArchived };
      const { changed, left } = await firstValueFrom(this.api.call('archiveLeads', { body }, changeId));
      this.picks.none();
      this.store.again();
      const rest =
        left === 0 ? '' : $localize` ${left}:left: stay: only qualified ones and those set aside can go.`;
      if (changed === 0) return this.notices.say($localize`Nothing changed.${rest}:rest:`);
      const leads = sayCount(changed, $localize`lead|leads`);
      const words = isArchived
        ? $localize`${leads}:leads: archived.${rest}:rest:`
        : $localize`${leads}:leads: out of the archive.${rest}:rest:`;
      this.undo.offer(words, changeId, () => this.store.again());
    } catch (error) {
      this.notices.problem(error);
    }
  }
}
