import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule } from '@angular/material/dialog';
import type { JournalEntry } from '@kettle/contract';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { MomentPipe } from '../../kit/say.pipes';
import { Waiting } from '../../kit/states';
import { RichText } from './rich-text';

/** What an entry said before its edits. */
@Component({
  selector: 'kettle-history-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDialogModule, MomentPipe, RichText, Waiting],
  template: `
    <h2 i18n mat-dialog-title>What it said before</h2>
    <mat-dialog-content>
      @if (history.value(); as told) {
        @for (each of told.before; track $index) {
          <section>
            <p i18n class="soft">
              until {{ each.editedAt | moment }}, edited by {{ each.editedBy }} · dated {{ each.at | moment }}
            </p>
            @if (each.isRich) {
              <kettle-rich-text [text]="each.body" />
            } @else {
              <p class="body">{{ each.body || texts.nothing }}</p>
            }
          </section>
        }
      } @else {
        <kettle-waiting />
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button i18n matButton="outlined" mat-dialog-close>Close</button>
    </mat-dialog-actions>
  `,
  styles: `
    section {
      padding-block: 8px;
      border-block-end: 1px solid var(--hairline);
      color: var(--text);
    }
    .body {
      white-space: pre-wrap;
    }
  `,
})
export class HistoryDialog {
  protected readonly texts = {
    nothing: $localize`(nothing)`,
  };

  private readonly api = inject(Api);
  private readonly entry = inject<JournalEntry>(MAT_DIALOG_DATA);
  protected readonly history = reading((id: JournalEntry['id']) =>
    this.api.call('entryHistory', { params: { id } }),
  );

  constructor() {
    this.history.read(this.entry.id);
  }
}
