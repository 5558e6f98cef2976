import { ChangeDetectionStrategy, Component } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialogModule } from '@angular/material/dialog';

/** Before what was typed is lost. */
@Component({
  selector: 'kettle-discard-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDialogModule],
  template: `
    <h2 i18n mat-dialog-title>Discard what you typed?</h2>
    <mat-dialog-actions align="end">
      <button i18n matButton="outlined" type="button" [mat-dialog-close]="true">Discard</button>
      <button i18n matButton="filled" type="button" [mat-dialog-close]="false" cdkFocusInitial>
        Keep writing
      </button>
    </mat-dialog-actions>
  `,
})
export class DiscardDialog {}
