import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { ViewPlace } from '@kettle/contract';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { fieldParts } from '../../kit/field';

/** Gives the view on screen a name. */
@Component({
  selector: 'kettle-view-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatCheckboxModule, MatButtonModule, FormsModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>Save this view</h2>
    <form (ngSubmit)="save()">
      <mat-dialog-content>
        <mat-form-field>
          <mat-label>Name</mat-label>
          <input matInput name="name" [(ngModel)]="name" maxlength="60" required cdkFocusInitial />
          @if (problem(); as wrong) {
            <span class="wrong" role="alert">{{ wrong.of('name') ?? wrong.message }}</span>
          }
        </mat-form-field>
        <mat-checkbox name="shared" [(ngModel)]="isShared">share it with the team</mat-checkbox>
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button matButton="outlined" type="button" mat-dialog-close>Cancel</button>
        <button matButton="filled">Save</button>
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
export class ViewDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<ViewDialog>);
  private readonly asked = inject<{ place: ViewPlace; query: string }>(MAT_DIALOG_DATA);
  protected readonly problem = signal<ApiProblem | null>(null);
  protected name = '';
  protected isShared = false;

  protected save(): void {
    const body = { ...this.asked, name: this.name, isShared: this.isShared };
    this.api.call('saveView', { body }).subscribe({
      next: (view) => this.dialog.close(view),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
