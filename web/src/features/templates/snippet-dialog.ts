import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { Snippet, Wording } from '@kettle/contract';
import type { Observable } from 'rxjs';
import { Api } from '../../api/api';
import { formParts, RecordForm, required } from '../../kit/form';
import { CurrentUser } from '../../services/current-user';
import { AskRelease, WordingHistory } from '../wordings/index';

interface Draft {
  readonly name: string;
  readonly body: string;
}

/** One passage that templates bring in by its name. */
@Component({
  selector: 'kettle-snippet-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts, MatButtonModule, WordingHistory],
  template: `
    <kettle-dialog-form
      [title]="snippet ? texts.snippet(snippet.name) : texts.newSnippet"
      [act]="user.mayRelease() ? texts.save : texts.sendForRelease"
      [form]="form"
      (save)="save()"
    >
      <kettle-text-field
        label="Name, of small letters"
        i18n-label
        [formControl]="form.controls.name"
        [most]="40"
        startsHere
      />
      <kettle-text-field
        label="Text"
        i18n-label
        [formControl]="form.controls.body"
        [rows]="6"
        [most]="5000"
      />
      @if (snippet) {
        <kettle-wording-history
          [of]="{ snippetId: snippet.id }"
          [version]="snippet.version"
          (take)="takeEarlier($event)"
        />
        @if (user.mayRelease()) {
          <button i18n besideActs matButton type="button" (click)="remove()">remove it</button>
        }
      }
    </kettle-dialog-form>
  `,
})
export class SnippetDialog {
  protected readonly texts = {
    snippet: (name: string | number) => $localize`Snippet ${name}:name:`,
    newSnippet: $localize`New snippet`,
    save: $localize`Save`,
    sendForRelease: $localize`Send for release`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<SnippetDialog>);
  protected readonly snippet = inject<Snippet | null>(MAT_DIALOG_DATA);
  protected readonly user = inject(CurrentUser);
  private readonly releasing = inject(AskRelease);
  protected readonly form = new RecordForm({
    name: required(this.snippet?.name ?? ''),
    body: required(this.snippet?.body ?? ''),
  });

  protected save(): void {
    this.form.send(
      this.form.getRawValue(),
      (body): Observable<unknown> => (this.user.mayRelease() ? this.keep(body) : this.askFor(body)),
      () => this.dialog.close(true),
    );
  }

  private keep(body: Draft): Observable<unknown> {
    const { snippet } = this;
    return snippet === null
      ? this.api.call('createSnippet', { body })
      : this.api.call('changeSnippet', {
          params: { id: snippet.id },
          body: { ...body, version: snippet.version },
        });
  }

  /** Somebody else must release it. */
  private askFor(body: Draft): Observable<unknown> {
    const { snippet } = this;
    return snippet === null
      ? this.releasing.send({ act: 'createSnippet', body })
      : this.releasing.send({
          act: 'changeSnippet',
          snippetId: snippet.id,
          body: { ...body, version: snippet.version },
        });
  }

  protected takeEarlier({ asked }: Wording): void {
    this.form.controls.body.setValue(String(asked['body'] ?? ''));
  }

  protected remove(): void {
    if (this.snippet === null) return;
    this.api.call('removeSnippet', { params: { id: this.snippet.id } }).subscribe({
      next: () => this.dialog.close(true),
      error: this.form.submission.refuse,
    });
  }
}
