import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { LeadRow } from '@kettle/contract';
import { leadStatusLabel } from '@kettle/contract/labels';
import { MomentPipe } from '../../kit/say.pipes';
import { SelectedRecord } from '../../services/selected-record';

/** Leads of somebody or a firm, as lines that open. */
@Component({
  selector: 'kettle-lead-lines',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MomentPipe],
  template: `
    @for (lead of rows(); track lead.id) {
      <p>
        <button matButton type="button" (click)="selected.open({ kind: 'lead', id: lead.id })">
          {{ lead.subject }}
        </button>
        <span class="soft">{{ labels[lead.status] }} · {{ lead.createdAt | moment }}</span>
      </p>
    }
  `,
  styles: `
    .bare {
      padding-inline-start: 0;
    }
  `,
})
export class LeadLines {
  protected readonly selected = inject(SelectedRecord);
  protected readonly labels = leadStatusLabel;
  readonly rows = input.required<readonly LeadRow[]>();
}
