import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { CallOf, GiveRecords } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { choiceParts } from '../../kit/choice';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { PeopleWords } from '../fields/index';

export interface GiveAsked {
  readonly kind: GiveRecords['kind'];
  readonly ids: readonly string[];
  /** How many and what, `3 leads`. */
  readonly words: string;
}

const pool = 'pool';

/** Gives the picked ones to one colleague; leads also back to the pool. */
@Component({
  selector: 'kettle-give-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [choiceParts, FormsModule, MatButtonModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>Change the owner of {{ asked.words }}</h2>
    <form (ngSubmit)="give()">
      <mat-dialog-content>
        <mat-form-field>
          <mat-label>New owner</mat-label>
          <mat-select name="owner" [ngModel]="ownerId()" (ngModelChange)="ownerId.set($event)" required>
            @if (asked.kind === 'lead') {
              <mat-option [value]="pool">nobody: into the pool</mat-option>
            }
            @for (each of people.colleagues(); track each.id) {
              <mat-option [value]="each.id">{{ each.name }}</mat-option>
            }
          </mat-select>
        </mat-form-field>
        @if (problem(); as wrong) {
          <p class="now" role="alert">{{ wrong.message }}</p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button matButton="outlined" type="button" mat-dialog-close>Cancel</button>
        <button matButton="filled" [disabled]="ownerId() === null || isBusy()">Change owner</button>
      </mat-dialog-actions>
    </form>
  `,
})
export class GiveDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<GiveDialog>);
  private readonly undo = inject(Undo);
  private readonly notices = inject(Notices);
  protected readonly people = inject(PeopleWords);
  protected readonly asked = inject<GiveAsked>(MAT_DIALOG_DATA);
  protected readonly pool = pool;
  protected readonly ownerId = signal<string | null>(null);
  protected readonly isBusy = signal(false);
  protected readonly problem = signal<ApiProblem | null>(null);

  constructor() {
    this.people.wake();
  }

  protected give(): void {
    const ownerId = this.ownerId();
    if (ownerId === null || this.isBusy()) return;
    this.isBusy.set(true);
    const changeId = v7();
    const { kind, ids } = this.asked;
    const body = { kind, ids, ownerId: ownerId === pool ? null : ownerId };
    this.api.call('giveRecords', { body: body as CallOf<'giveRecords'>['body'] }, changeId).subscribe({
      next: ({ given, left }) => {
        this.dialog.close(true);
        const rest = left > 0 ? ` ${left} stay as they were: theirs already, or closed.` : '';
        const to = ownerId === pool ? 'the pool' : this.people.colleague(ownerId);
        if (given === 0) this.notices.say(`Nothing changed.${rest}`);
        else this.undo.offer(`${given} now with ${to}.${rest}`, changeId, () => undefined);
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
