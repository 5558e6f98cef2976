import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import { MatIconButton } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatDialog } from '@angular/material/dialog';
import type { ContactId, Removable } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { openPersonalData } from '../personal-data/index';
import { tellLater } from '../../kit/tell-later';

/** A record that can be archived or deleted, as it is shown. */
export interface MenuRecord {
  readonly kind: Removable;
  readonly id: string;
  readonly version: number;
  readonly isArchived: boolean;
}

/** Takes a record out of the way: archives it, or deletes it with all that is only about it. Both can be undone. */
@Component({
  selector: 'kettle-record-menu',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIcon, MatMenuModule, MatIconButton],
  template: `
    <button matIconButton type="button" [matMenuTriggerFor]="more" [attr.aria-label]="label()">
      <mat-icon svgIcon="more" />
    </button>
    <mat-menu #more="matMenu">
      <button mat-menu-item type="button" (click)="archive(!record().isArchived)">
        {{ record().isArchived ? texts.restoreFromTheArchive : texts.archiveThis(record().kind) }}
      </button>
      <button i18n mat-menu-item type="button" (click)="remove()">Delete this {{ record().kind }}</button>
      @if (record().kind === 'contact' && user.person()?.role === 'admin') {
        <button i18n mat-menu-item type="button" (click)="showPersonalData()">Personal data …</button>
      }
    </mat-menu>
  `,
})
export class RecordMenu {
  protected readonly texts = {
    restoreFromTheArchive: $localize`Restore from the archive`,
    archiveThis: (kind: string | number) => $localize`Archive this ${kind}:kind:`,
  };

  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly dialog = inject(MatDialog);
  protected readonly user = inject(CurrentUser);
  readonly record = input.required<MenuRecord>();
  readonly label = input($localize`More acts`);
  /** It is as it is shown no longer: read it again. */
  readonly changed = output();
  readonly removed = output();
  /** The removal was undone: it is there again. */
  readonly back = output();
  private readonly tellChanged = tellLater(this.changed);
  private readonly tellBack = tellLater(this.back);

  archive(isArchived: boolean): void {
    const { kind, id, version } = this.record();
    const changeId = v7();
    this.api.call('archiveRecord', { body: { kind, id, version, isArchived } }, changeId).subscribe({
      next: ({ words }) => {
        this.tellChanged();
        this.undo.offer(words, changeId, this.tellChanged);
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected showPersonalData(): void {
    openPersonalData(this.dialog, this.record().id as ContactId).subscribe((isErased) => {
      if (isErased === true) this.removed.emit();
    });
  }

  protected remove(): void {
    const { kind, id, version } = this.record();
    const changeId = v7();
    this.api.call('removeRecord', { body: { kind, id, version } }, changeId).subscribe({
      next: ({ words }) => {
        this.removed.emit();
        this.undo.offer(words, changeId, this.tellBack);
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
