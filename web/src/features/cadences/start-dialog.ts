import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  linkedSignal,
  signal,
  untracked,
} from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { v4 } from 'uuid';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { DayPipe } from '../../design/say.pipes';
import { Failed, Waiting } from '../../design/states';
import { Here } from '../../shell/here';
import { Notices } from '../../shell/notices';

/** Starts people on a cadence: the planned dates of every step are shown, with each shift, before it is confirmed. */
@Component({
  selector: 'kettle-start-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatDialogModule, MatIcon, DayPipe, Failed, Waiting],
  templateUrl: './start-dialog.html',
  styleUrl: './start-dialog.scss',
})
export class StartDialog {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly dialog = inject(MatDialogRef<StartDialog, boolean>);
  protected readonly here = inject(Here);
  protected readonly asked = inject<{ contactIds: string[]; cadenceId?: string }>(MAT_DIALOG_DATA);

  protected readonly cadences = reading((_: null) => this.api.call('listCadences'));
  protected readonly cadenceId = linkedSignal(
    () => this.asked.cadenceId ?? this.cadences.value()?.cadences[0]?.id ?? null,
  );
  protected readonly plan = reading((id: string) =>
    this.api.call('planStart', { params: { id }, body: { contactIds: this.asked.contactIds } }),
  );
  protected readonly starting = computed(
    () => this.plan.value()?.people.filter((person) => person.leftOut === null).length ?? 0,
  );
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly isBusy = signal(false);
  /** Made once for this dialog: a start sent twice starts nobody twice. */
  private readonly requestId = v4();

  constructor() {
    this.cadences.read(null);
    effect(() => {
      const id = this.cadenceId();
      untracked(() => {
        if (id !== null) this.plan.read(id);
      });
    });
  }

  protected start(): void {
    const plan = this.plan.value();
    if (plan === null) return;
    const contactIds = plan.people
      .filter((person) => person.leftOut === null)
      .map((person) => person.contactId);
    this.isBusy.set(true);
    const body = { requestId: this.requestId, versionId: plan.versionId, contactIds };
    this.api.call('startRuns', { params: { id: plan.cadenceId }, body }).subscribe({
      next: ({ started }) => {
        this.notices.say(`${started.length} started.`);
        this.dialog.close(true);
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
