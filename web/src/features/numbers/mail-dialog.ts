import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { AskReport, UserId } from '@kettle/contract';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { field, formParts, RecordForm, required } from '../../kit/form';
import { SeveralField } from '../../kit/several-field';
import { Failed } from '../../kit/states';
import { Notices } from '../../services/notices';

export interface MailAsked {
  readonly report: AskReport;
  readonly name: string;
}

/** Sends a report to colleagues who may read what it is of, now or each Monday. */
@Component({
  selector: 'kettle-report-mail-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Failed, formParts, SeveralField],
  template: `
    <kettle-dialog-form title="Send by mail" i18n-title [form]="form" act="Send" i18n-act (save)="save()">
      <kettle-text-field
        label="Subject"
        i18n-label
        [formControl]="form.controls.name"
        [most]="120"
        startsHere
      />
      <kettle-several-field
        label="To"
        i18n-label
        hint="Those who may read all it is of."
        i18n-hint
        [formControl]="form.controls.to"
        [options]="people()"
      />
      <kettle-choice-field label="When" i18n-label [formControl]="form.controls.when" [options]="times" />
      @if (readers.state(); as state) {
        @if (state.kind === 'failed') {
          <kettle-failed [problem]="state.problem" (again)="readers.again()" />
        }
      }
    </kettle-dialog-form>
  `,
})
export class MailDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<MailDialog>);
  private readonly notices = inject(Notices);
  protected readonly asked = inject<MailAsked>(MAT_DIALOG_DATA);
  protected readonly readers = reading((query: AskReport) => this.api.call('reportReaders', { query }));
  protected readonly people = computed(() =>
    (this.readers.value()?.people ?? []).map(({ id, name }) => ({ value: id, words: name })),
  );
  protected readonly times = [
    { value: 'now' as const, words: $localize`now` },
    { value: 'mondays' as const, words: $localize`each Monday at seven` },
  ];
  protected readonly form = new RecordForm({
    name: required(this.asked.name),
    to: required<readonly UserId[]>([]),
    when: field<'now' | 'mondays'>('now'),
  });

  constructor() {
    this.readers.read(this.asked.report);
  }

  protected save(): void {
    const { name, to, when } = this.form.getRawValue();
    this.form.send(
      { name, to: [...to], when, report: this.asked.report },
      (body) => this.api.call('mailReport', { body }),
      () => {
        this.dialog.close();
        this.notices.say(
          when === 'now'
            ? $localize`It is on its way.`
            : $localize`It is sent each Monday, until you remove it.`,
        );
      },
    );
  }
}
