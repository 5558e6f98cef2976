import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { Quote } from '@kettle/contract';
import { sayDate } from '@kettle/core/time';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { formParts, RecordForm, required } from '../../kit/form';
import { CurrentUser } from '../../services/current-user';
import { Undo } from '../../services/undo';

/** Sends a quote: by mail with its link, or without, when the link is handed on otherwise. */
@Component({
  selector: 'kettle-send-quote-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts, MatCheckboxModule],
  template: `
    <kettle-dialog-form title="Send the quote" i18n-title act="Send" i18n-act [form]="form" (save)="save()">
      <p i18n class="soft">
        It gets its number for good. What is sent is kept word for word, and a step is planned to ask about it
        before it lapses.
      </p>
      @if (quote.contactEmail) {
        <mat-checkbox [checked]="byMail()" (change)="byMail.set($event.checked)">
          <ng-container i18n>by mail to {{ quote.contactName }}, {{ quote.contactEmail }}</ng-container>
        </mat-checkbox>
      } @else {
        <p i18n>{{ quote.contactName }} has no e-mail address: hand the link on yourself.</p>
      }
      @if (byMail()) {
        <kettle-text-field label="Subject" i18n-label [formControl]="form.controls.subject" [most]="200" />
        <kettle-text-field
          label="Words above the link"
          i18n-label
          [rows]="7"
          [formControl]="form.controls.text"
          [most]="10000"
        />
      }
    </kettle-dialog-form>
  `,
})
export class SendDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<SendDialog, Quote>);
  private readonly undo = inject(Undo);
  private readonly user = inject(CurrentUser);
  protected readonly quote = inject<Quote>(MAT_DIALOG_DATA);
  protected readonly byMail = signal(this.quote.contactEmail !== null);
  protected readonly form = new RecordForm({
    subject: required($localize`Our quote: ${this.quote.title}:title:`),
    text: required(this.usualText()),
  });

  private usualText(): string {
    const hello = this.quote.contactName.split(' ')[0] ?? '';
    const until = sayDate(this.quote.validUntil, this.user.today());
    return $localize`Good morning ${hello}:name:,\n\nhere is our quote. It is valid until ${until}:day:. You can accept it on its page, or ask us there.\n\nKind regards\n${this.user.person()?.name ?? ''}:sender:`;
  }

  protected save(): void {
    const { id, version } = this.quote;
    const { subject, text } = this.form.getRawValue();
    const changeId = v7();
    this.form.send(
      { version, mail: this.byMail() ? { subject, text } : null },
      (body) => this.api.call('sendQuote', { params: { id }, body }, changeId),
      (sent) => {
        this.undo.offer($localize`Quote ${sent.number ?? ''}:number: is sent.`, changeId);
        this.dialog.close(sent);
      },
    );
  }
}
