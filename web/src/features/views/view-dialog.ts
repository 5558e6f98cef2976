import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { SavedView, ViewPlace } from '@kettle/contract';
import { Api } from '../../api/api';
import { field, formParts, RecordForm, required } from '../../kit/form';

export interface ViewAsked {
  readonly place: ViewPlace;
  readonly query: string;
  /** The one that gets another name; left out, it is a new one. */
  readonly view?: SavedView;
}

/** Gives the view on screen a name, or a saved one another. */
@Component({
  selector: 'kettle-view-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts, MatCheckboxModule],
  template: `
    <kettle-dialog-form
      [title]="asked.view ? texts.rename(asked.view.name) : texts.saveThisView"
      [form]="form"
      (save)="save()"
    >
      <kettle-text-field label="Name" i18n-label [formControl]="form.controls.name" [most]="60" startsHere />
      <mat-checkbox i18n [formControl]="form.controls.isShared">Share with the team</mat-checkbox>
    </kettle-dialog-form>
  `,
})
export class ViewDialog {
  protected readonly texts = {
    rename: (name: string | number) => $localize`Rename ${name}:name:`,
    saveThisView: $localize`Save this view`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<ViewDialog>);
  protected readonly asked = inject<ViewAsked>(MAT_DIALOG_DATA);
  protected readonly form = new RecordForm({
    name: required(this.asked.view?.name ?? ''),
    isShared: field(this.asked.view?.isShared ?? false),
  });

  protected save(): void {
    const { place, query, view } = this.asked;
    this.form.send(
      { ...this.form.getRawValue(), query },
      (body) =>
        view
          ? this.api.call('changeView', {
              params: { id: view.id },
              body: { ...body, version: view.version },
            })
          : this.api.call('saveView', { body: { ...body, place } }),
      (saved) => this.dialog.close(saved),
    );
  }
}
