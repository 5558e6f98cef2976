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
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { sayShortDay } from '@kettle/core/time';
import { v4, v7 } from 'uuid';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { sayCount } from '@kettle/core/locale';
import { ChoiceField } from '../../kit/choice-field';
import { DayPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { WhyNot } from '../../kit/why-not';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { LoadBars } from './load-bars';

/** Starts people on a cadence: the planned dates of every step are shown, with each shift, before it is confirmed. */
@Component({
  selector: 'kettle-start-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ChoiceField,
    WhyNot,
    MatCheckboxModule,
    MatButtonModule,
    MatDialogModule,
    MatIcon,
    LoadBars,
    DayPipe,
    Failed,
    Waiting,
  ],
  templateUrl: './start-dialog.html',
  styleUrl: './start-dialog.scss',
})
export class StartDialog {
  protected readonly texts = {
    nobodyInTheList: $localize`Nobody in the list can start: the reason stands beside each.`,
  };

  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly dialog = inject(MatDialogRef<StartDialog, boolean>);
  protected readonly user = inject(CurrentUser);
  protected readonly asked = inject<{ contactIds: string[]; cadenceId?: string }>(MAT_DIALOG_DATA);

  protected readonly cadences = reading((_: null) => this.api.call('listCadences'));
  protected readonly cadenceId = linkedSignal(() => this.asked.cadenceId ?? this.usable()[0]?.id ?? null);
  protected readonly usable = computed(() =>
    (this.cadences.value()?.cadences ?? []).filter(({ isRetired }) => !isRetired),
  );
  protected readonly choices = computed(() =>
    this.usable().map(({ id, name, definition }) => ({
      value: id as string,
      words: `${name} · ${sayCount(definition.steps.length, $localize`step|steps`)}`,
    })),
  );
  protected readonly isLevelled = signal(false);
  protected readonly plan = reading(({ id, isLevelled }: { id: string; isLevelled: boolean }) =>
    this.api.call('planStart', {
      params: { id },
      body: { contactIds: this.asked.contactIds, isLevelled },
    }),
  );
  /** Who would start: not left out, and with a day when starts are levelled. */
  private readonly starters = computed(() =>
    (this.plan.value()?.people ?? []).filter(
      ({ leftOut, startOn }) => leftOut === null && (startOn !== null || !this.isLevelled()),
    ),
  );
  protected readonly starting = computed(() => this.starters().length);
  protected readonly leftOut = computed(
    () => this.plan.value()?.people.filter((person) => person.leftOut !== null).length ?? 0,
  );
  /** "5 on Tue 24 Nov, 4 on Mon 30 Nov". */
  protected readonly startWords = computed(() => {
    const days = new Map<string, number>();
    for (const { startOn } of this.starters())
      if (startOn !== null) days.set(startOn, (days.get(startOn) ?? 0) + 1);
    return [...days]
      .sort(([a], [b]) => a.localeCompare(b))
      .map(([day, count]) => $localize`${count}:count: on ${sayShortDay(day, this.user.today())}:day:`)
      .join(', ');
  });
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly isBusy = signal(false);
  /** Made once for this dialog: a start sent twice starts nobody twice. */
  private readonly requestId = v4();

  constructor() {
    this.cadences.read(null);
    effect(() => {
      const id = this.cadenceId();
      const isLevelled = this.isLevelled();
      untracked(() => {
        if (id !== null) this.plan.read({ id, isLevelled });
      });
    });
  }

  protected start(): void {
    const plan = this.plan.value();
    if (plan === null || this.isBusy()) return;
    const contactIds = this.starters().map((person) => person.contactId);
    const days = this.starters().flatMap(({ contactId, startOn }) => (startOn ? [[contactId, startOn]] : []));
    this.isBusy.set(true);
    const body = {
      requestId: this.requestId,
      versionId: plan.versionId,
      contactIds,
      startOn: this.isLevelled() ? (Object.fromEntries(days) as Record<string, string>) : {},
    };
    const changeId = v7();
    this.api.call('startRuns', { params: { id: plan.cadenceId }, body }, changeId).subscribe({
      next: ({ started }) => {
        const words = $localize`${started.length} started.`;
        if (started.length === 0) this.notices.say(words);
        else this.undo.offer(words, changeId);
        this.dialog.close(true);
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
