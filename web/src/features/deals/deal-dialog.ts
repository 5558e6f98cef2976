import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { Channel, Contact, Deal, DealRow } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { readMoney } from '@kettle/core/money';
import { addDays } from '@kettle/core/time';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { MoneyPipe } from '../../design/say.pipes';
import { Here } from '../../shell/here';

interface Asked {
  readonly contact?: Contact | null;
  readonly deal?: Deal | null;
}

const usualDaysToClose = 30;

/** Makes a deal with its next step, or changes one; a change that met another person's shows theirs and keeps what was typed. */
@Component({
  selector: 'kettle-deal-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, MatDialogModule, MoneyPipe],
  templateUrl: './deal-dialog.html',
})
export class DealDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<DealDialog>);
  protected readonly here = inject(Here);
  protected readonly asked = inject<Asked>(MAT_DIALOG_DATA);
  protected readonly labels = channelLabel;
  protected readonly channels = Object.keys(channelLabel) as Channel[];
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly amountWrong = signal<string | null>(null);
  protected readonly pipelines = reading((_: null) => this.api.call('listPipelines'));
  protected readonly stages = computed(
    () => this.pipelines.value()?.pipelines.flatMap((pipeline) => pipeline.stages) ?? [],
  );
  /** The other person's version, when ours was out of date. */
  protected readonly theirs = computed(() =>
    this.problem()?.code === 'stale' ? (this.problem()?.current as DealRow) : null,
  );

  private version = this.asked.deal?.version ?? 1;
  protected name = this.asked.deal?.name ?? '';
  protected amount = this.asked.deal ? String(this.asked.deal.amountMinor / 100) : '';
  protected stageId: string = this.asked.deal?.stageId ?? '';
  protected closeOn =
    this.asked.deal?.expectedCloseOn ?? (this.asked.deal ? '' : addDays(this.here.today(), usualDaysToClose));
  protected probability =
    this.asked.deal?.ownProbability === null || !this.asked.deal
      ? ''
      : String(this.asked.deal.ownProbability * 100);
  protected nextChannel: Channel = 'call';
  protected nextOn = addDays(this.here.today(), 1);
  protected nextPurpose = '';

  constructor() {
    this.pipelines.read(null);
  }

  protected nameOfStage(id: string): string {
    return this.stages().find((stage) => stage.id === id)?.name ?? '';
  }

  protected save(): void {
    const amountMinor = readMoney(this.amount);
    this.amountWrong.set(amountMinor === null ? 'must be an amount such as 4,400 or 12.5k' : null);
    if (amountMinor === null) return;
    const stageId = this.stageId || this.stages()[0]?.id || '';
    const shared = { name: this.name, stageId, amountMinor, expectedCloseOn: this.closeOn || null };
    const { deal } = this.asked;
    const asked = deal
      ? this.api.call('changeDeal', {
          params: { id: deal.id },
          body: {
            ...shared,
            version: this.version,
            winProbability: this.probability === '' ? null : Number(this.probability) / 100,
          },
        })
      : this.api.call('createDeal', {
          body: {
            ...shared,
            contactId: this.asked.contact!.id,
            next: {
              kind: 'task',
              channel: this.nextChannel,
              dueOn: this.nextOn,
              purpose: this.nextPurpose,
              promisedMinute: null,
              minutes: 6,
            },
          },
        });
    asked.subscribe({
      next: (made) => this.dialog.close(made),
      error: (error: unknown) => {
        const problem = problemOf(error);
        this.problem.set(problem);
        // The next save is made over their version: what was typed here stands, knowingly.
        if (problem.code === 'stale') this.version = (problem.current as DealRow).version;
      },
    });
  }
}
