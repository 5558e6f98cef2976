import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { SavedView, ViewPlace } from '@kettle/contract';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { fieldParts } from '../../kit/field';

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
  imports: [fieldParts, MatCheckboxModule, MatButtonModule, FormsModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>{{ asked.view ? 'Rename ' + asked.view.name : 'Save this view' }}</h2>
    <form (ngSubmit)="save()">
      <mat-dialog-content>
        <mat-form-field>
          <mat-label>Name</mat-label>
          <input matInput name="name" [(ngModel)]="name" maxlength="60" required cdkFocusInitial />
          @if (problem(); as wrong) {
            <span class="wrong" role="alert">{{ wrong.of('name') ?? wrong.message }}</span>
          }
        </mat-form-field>
        <mat-checkbox name="shared" [(ngModel)]="isShared">Share with the team</mat-checkbox>
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
  protected readonly asked = inject<ViewAsked>(MAT_DIALOG_DATA);
  protected readonly problem = signal<ApiProblem | null>(null);
  protected name = this.asked.view?.name ?? '';
  protected isShared = this.asked.view?.isShared ?? false;
  private isBusy = false;

  protected save(): void {
    if (this.isBusy) return;
    this.isBusy = true;
    const { place, query, view } = this.asked;
    const named = { query, name: this.name, isShared: this.isShared };
    const saved$ = view
      ? this.api.call('changeView', { params: { id: view.id }, body: { ...named, version: view.version } })
      : this.api.call('saveView', { body: { ...named, place } });
    saved$.subscribe({
      next: (saved) => this.dialog.close(saved),
      error: (error: unknown) => {
        this.isBusy = false;
        this.problem.set(problemOf(error));
      },
    });
  }
}
