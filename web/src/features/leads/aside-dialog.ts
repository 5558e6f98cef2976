import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { LeadRow } from '@kettle/contract';
import { addDays } from '@kettle/core/time';
import { Api } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { DayProposals } from '../../kit/day-proposals';
import { field, formParts, RecordForm, required } from '../../kit/form';
import { ProposedField } from '../../kit/proposed-field';
import { CurrentUser } from '../../services/current-user';
import { DealWords } from '../deals/index';

/** Sets a lead aside: why, and whether it comes back. */
@Component({
  selector: 'kettle-aside-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayField, DayProposals, formParts, ProposedField],
  template: `
    <kettle-dialog-form
      [title]="texts.setAside(lead.contactName)"
      act="Set it aside"
      i18n-act
      [form]="form"
      (save)="save()"
    >
      <kettle-proposed-field
        label="Why"
        i18n-label
        [formControl]="form.controls.reason"
        [most]="300"
        [proposals]="reasons()"
        startsHere
      />
      <kettle-day-field
        label="Back in the Round on (empty: not)"
        i18n-label
        [min]="earliest"
        [formControl]="form.controls.wakeOn"
        warns
      />
      <kettle-day-proposals from="in a week" i18n-from (picked)="form.controls.wakeOn.setValue($event)" />
    </kettle-dialog-form>
  `,
})
export class AsideDialog {
  protected readonly texts = {
    setAside: (contactName: string | number) => $localize`${contactName}:contactName:: set aside`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<AsideDialog>);
  private readonly words = inject(DealWords);
  protected readonly user = inject(CurrentUser);
  private readonly asked = inject<{ lead: LeadRow; changeId: string }>(MAT_DIALOG_DATA);
  protected readonly lead = this.asked.lead;
  protected readonly reasons = computed(() => this.words.reasons()?.aside ?? []);
  protected readonly earliest = addDays(this.user.today(), 1);
  protected readonly form = new RecordForm({ reason: required(''), wakeOn: field('') });

  constructor() {
    this.words.wake();
  }

  protected save(): void {
    const { reason, wakeOn } = this.form.getRawValue();
    this.form.send(
      { reason, wakeOn: wakeOn || null },
      (body) => this.api.call('setLeadAside', { params: { id: this.lead.id }, body }, this.asked.changeId),
      (lead) => this.dialog.close(lead),
    );
  }
}
