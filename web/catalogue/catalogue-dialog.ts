import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatDialogRef } from '@angular/material/dialog';
import { of, throwError } from 'rxjs';
import { ApiProblem } from '../src/api/api';
import { field, formParts, RecordForm, required } from '../src/kit/form';

/** A dialog with a form: first it is refused as changed by somebody else, then saved. */
@Component({
  selector: 'kettle-catalogue-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts],
  template: `
    <kettle-dialog-form title="Change the deal" [form]="form" (save)="save()">
      <p class="soft">Saving is refused once, as if another person had changed the value meanwhile.</p>
      <kettle-text-field label="Name" [formControl]="form.controls.name" [most]="60" startsHere />
      <kettle-number-field kind="money" label="Value" [formControl]="form.controls.amountMinor" />
      <kettle-text-field label="Note" [formControl]="form.controls.note" [rows]="3" />
    </kettle-dialog-form>
  `,
})
export class CatalogueDialog {
  private readonly dialog = inject(MatDialogRef<CatalogueDialog>);
  private isRefused = false;
  protected readonly form = new RecordForm({
    name: required('Softener, twin column'),
    amountMinor: required(440_000),
    note: field(''),
  });

  protected save(): void {
    const stale = new ApiProblem(
      'stale',
      'Somebody changed this while you worked on it.',
      [{ path: 'amountMinor', message: 'was changed by Corin Vale meanwhile' }],
      { version: 7, amountMinor: 390_000 },
    );
    this.form.send(
      this.form.getRawValue(),
      () => {
        if (this.isRefused) return of(null);
        this.isRefused = true;
        return throwError(() => stale);
      },
      () => this.dialog.close(),
    );
  }
}
