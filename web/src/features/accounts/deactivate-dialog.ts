import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { Account, Owned } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api, problemOf, type ApiProblem } from '../../api/api';
import { reading } from '../../api/reading';
import { choiceParts } from '../../kit/choice';
import { Waiting } from '../../kit/states';

const words: readonly (readonly [keyof Owned, string, string])[] = [
  ['contacts', 'person', 'people'],
  ['companies', 'company', 'companies'],
  ['leads', 'lead', 'leads'],
  ['deals', 'open deal', 'open deals'],
  ['tasks', 'open task', 'open tasks'],
  ['agreements', 'agreement', 'agreements'],
  ['runs', 'running cadence', 'running cadences'],
];

/** Ends somebody's access; says what they own, and asks who gets it. */
@Component({
  selector: 'kettle-deactivate-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [choiceParts, MatButtonModule, FormsModule, MatDialogModule, Waiting],
  template: `
    <form (ngSubmit)="save()">
      <h2 mat-dialog-title>Deactivate {{ asked.account.name }}</h2>
      <mat-dialog-content class="stack">
        <p>They are signed out at once and may not sign in again. What they did stays under their name.</p>
        @if (owned.value(); as it) {
          @if (parts().length > 0) {
            <p>They own {{ parts().join(', ') }}.</p>
            <mat-form-field>
              <mat-label>Who gets all of it</mat-label>
              <mat-select name="to" [(ngModel)]="to" [kettleProblem]="problem()?.of('handOverTo')">
                <mat-option [value]="null">
                  {{ mayBeNobody() ? 'nobody: it goes to the pool' : 'choose' }}
                </mat-option>
                @for (each of heirs; track each.id) {
                  <mat-option [value]="each.id">{{ each.name }}</mat-option>
                }
              </mat-select>
              @if (problem()?.of('handOverTo'); as wrong) {
                <mat-error>{{ wrong }}</mat-error>
              }
            </mat-form-field>
          } @else {
            <p class="soft">They own nothing that has to be handed over.</p>
          }
        } @else {
          <kettle-waiting />
        }
        @if (problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.message }}</p>
        }
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button matButton="outlined" type="button" mat-dialog-close>Cancel</button>
        <button matButton="filled" [disabled]="owned.value() === null">Deactivate</button>
      </mat-dialog-actions>
    </form>
  `,
  styleUrl: './accounts.scss',
})
export class DeactivateDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<DeactivateDialog>);
  protected readonly asked = inject<{ account: Account; all: readonly Account[] }>(MAT_DIALOG_DATA);
  protected readonly owned = reading((id: Account['id']) => this.api.call('readOwned', { params: { id } }));
  protected readonly problem = signal<ApiProblem | null>(null);
  protected to: Account['id'] | null = null;
  protected readonly heirs = this.asked.all.filter(
    ({ id, state }) => state === 'active' && id !== this.asked.account.id,
  );
  protected readonly parts = computed(() => {
    const owned = this.owned.value();
    if (owned === null) return [];
    return words.flatMap(([key, one, many]) => {
      const count = owned[key];
      return count === 0 ? [] : [`${count} ${count === 1 ? one : many}`];
    });
  });
  protected readonly mayBeNobody = computed(() => {
    const owned = this.owned.value();
    return owned !== null && owned.deals + owned.tasks + owned.agreements + owned.runs === 0;
  });

  constructor() {
    this.owned.read(this.asked.account.id);
  }

  protected save(): void {
    const changeId = v7();
    const call = { params: { id: this.asked.account.id }, body: { handOverTo: this.to } };
    this.api.call('deactivate', call, changeId).subscribe({
      next: () => this.dialog.close(changeId),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
