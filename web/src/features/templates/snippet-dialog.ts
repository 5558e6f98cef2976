import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { Snippet, Wording } from '@kettle/contract';
import type { Observable } from 'rxjs';
import { Api } from '../../api/api';
import { Conflicts, Submission } from '../../kit/conflicts';
import { fieldParts } from '../../kit/field';
import { CurrentUser } from '../../services/current-user';
import { AskRelease, WordingHistory } from '../wordings/index';

/** One passage that templates bring in by its name. */
@Component({
  selector: 'kettle-snippet-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatButtonModule, Conflicts, FormsModule, MatDialogModule, WordingHistory],
  template: `
    <h2 mat-dialog-title>{{ snippet ? 'Snippet ' + snippet.name : 'New snippet' }}</h2>
    <form (ngSubmit)="save()">
      <mat-dialog-content>
        <mat-form-field>
          <mat-label>Name, of small letters</mat-label>
          <input
            matInput
            name="name"
            [(ngModel)]="name"
            maxlength="40"
            required
            cdkFocusInitial
            [kettleProblem]="saving.problem()?.of('name')"
          />
          @if (saving.problem()?.of('name'); as wrong) {
            <mat-error>{{ wrong }}</mat-error>
          }
        </mat-form-field>
        <mat-form-field>
          <mat-label>Text</mat-label>
          <textarea
            matInput
            name="body"
            rows="6"
            maxlength="5000"
            [(ngModel)]="body"
            required
            [kettleProblem]="saving.problem()?.of('body')"
          ></textarea>
          @if (saving.problem()?.of('body'); as wrong) {
            <mat-error>{{ wrong }}</mat-error>
          }
        </mat-form-field>
        @if (snippet) {
          <kettle-wording-history
            [of]="{ snippetId: snippet.id }"
            [version]="snippet.version"
            (take)="takeEarlier($event)"
          />
        }
        @if (saving.problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.message }}</p>
        }
        <kettle-conflicts [problem]="saving.problem()" [sent]="saving.sent()" [(choices)]="saving.choices" />
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        @if (snippet && user.mayRelease()) {
          <button matButton type="button" (click)="remove()">remove it</button>
        }
        <button matButton="outlined" type="button" mat-dialog-close>Cancel</button>
        <button matButton="filled">{{ user.mayRelease() ? 'Save' : 'Send for release' }}</button>
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
export class SnippetDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<SnippetDialog>);
  protected readonly snippet = inject<Snippet | null>(MAT_DIALOG_DATA);
  protected readonly user = inject(CurrentUser);
  private readonly releasing = inject(AskRelease);
  protected readonly saving = new Submission();
  protected name = this.snippet?.name ?? '';
  protected body = this.snippet?.body ?? '';

  protected save(): void {
    const body = { name: this.name, body: this.body };
    if (!this.user.mayRelease()) return this.askFor(body);
    this.close(
      this.snippet === null
        ? this.api.call('createSnippet', { body })
        : this.api.call('changeSnippet', {
            params: { id: this.snippet.id },
            body: { ...this.saving.bodyOf(body), version: this.snippet.version },
          }),
    );
  }

  /** Somebody else must release it. */
  private askFor(body: { name: string; body: string }): void {
    this.close(
      this.snippet === null
        ? this.releasing.send({ act: 'createSnippet', body })
        : this.releasing.send({
            act: 'changeSnippet',
            snippetId: this.snippet.id,
            body: { ...this.saving.bodyOf(body), version: this.snippet.version },
          }),
    );
  }

  protected takeEarlier({ asked }: Wording): void {
    this.body = String(asked['body'] ?? '');
  }

  protected remove(): void {
    if (this.snippet) this.close(this.api.call('removeSnippet', { params: { id: this.snippet.id } }));
  }

  private close(done$: Observable<unknown>): void {
    done$.subscribe({
      next: () => this.dialog.close(true),
      error: this.saving.refuse,
    });
  }
}
