import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { type FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatDialogModule } from '@angular/material/dialog';
import { FormAnswer } from './form-answer';
import type { RecordForm } from './record-form';

/**
 * A dialog that is a form: its title, its fields, what the server refused, what another person changed meanwhile, and its two buttons; what carries
 * `besideActs` stands beside them.
 * @example
 * <kettle-dialog-form title="New deal" act="Create deal" [form]="form" (save)="save()">
 *   <kettle-text-field label="Name" [formControl]="form.controls.name" />
 * </kettle-dialog-form>
 */
@Component({
  selector: 'kettle-dialog-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormAnswer, MatButtonModule, MatDialogModule, ReactiveFormsModule],
  template: `
    <h2 mat-dialog-title>{{ title() }}</h2>
    <form [formGroup]="form()" (ngSubmit)="save.emit()">
      <mat-dialog-content>
        <ng-content />
        <kettle-form-answer [form]="form()" [say]="say()" [named]="named()" [inRecord]="inRecord()" />
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <ng-content select="[besideActs]" />
        <button i18n matButton="outlined" type="button" mat-dialog-close>Cancel</button>
        <button
          matButton="filled"
          [disabled]="form().submission.isSending() || !isReady()"
          disabledInteractive
        >
          {{ act() }}
        </button>
      </mat-dialog-actions>
    </form>
  `,
  styles: `
    mat-dialog-content {
      display: grid;
      gap: var(--space-3);
    }
  `,
})
export class DialogForm {
  readonly title = input.required<string>();
  /** What its button does. */
  readonly act = input('Save');
  /** Whether all is there that has to be seen before it is sent. */
  readonly isReady = input(true);
  readonly form = input.required<FormGroup & Pick<RecordForm, 'submission'>>();
  /** Values of a conflict in words, what the record calls a field, and what the form does: as in `kettle-conflicts`. */
  readonly say = input<(path: string, value: unknown) => string | null>(() => null);
  readonly inRecord = input<Readonly<Record<string, string>>>({});
  readonly named = input<(path: string) => string | null>(() => null);
  readonly save = output();
}
