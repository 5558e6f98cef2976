import { CountPipe } from '../../kit/say.pipes';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import type {
  BulkAct,
  BulkPlan,
  BulkProgress,
  CallOf,
  CellValue,
  Channel,
  CustomFieldType,
  ContactRow,
  UserId,
} from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { readCustomValue, type ReadValue } from '@kettle/core/fields';
import { catchError, debounceTime, type Observable, of, switchMap } from 'rxjs';
import { v7 } from 'uuid';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { formParts, labelled, named, type Option } from '../../kit/form';
import { WhyNot } from '../../kit/why-not';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { gridFields } from '@kettle/contract/grids/people';
import { columnsOf } from '../grid/index';
import { PeopleWords } from '../fields/index';

interface Asked {
  readonly selection: NonNullable<CallOf<'startBulk'>['body']>['selection'];
  readonly count: number;
}

type Kind = 'set' | 'add-tag' | 'remove-tag' | 'task';
const settleMillis = 250;

/** Changes many people at once: shows what will change, then how far it is, who could not be and why, and undoes it. */
@Component({
  selector: 'kettle-bulk-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CountPipe, WhyNot, DayField, formParts, MatButtonModule, MatDialogModule, MatProgressBarModule],
  templateUrl: './bulk-dialog.html',
  styles: `
    mat-dialog-content {
      display: grid;
      gap: var(--space-3);
    }
    li {
      padding-block: 3px;
    }
  `,
})
export class BulkDialog {
  protected readonly texts = {
    people: $localize`person|people`,
    peopleAre: $localize`person is|people are`,
    close: $localize`Close`,
    cancel: $localize`Cancel`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<BulkDialog>);
  private readonly user = inject(CurrentUser);
  protected readonly words = inject(PeopleWords);
  protected readonly asked = inject<Asked>(MAT_DIALOG_DATA);
  private readonly id = v7();

  protected readonly channels = labelled(channelLabel);
  protected readonly acts: readonly (readonly [Kind, string])[] = [
    ['set', $localize`a field`],
    ['add-tag', $localize`add a tag`],
    ['remove-tag', $localize`take a tag away`],
    ['task', $localize`plan a task`],
  ];
  protected readonly kind = signal<Kind>('set');
  protected readonly field = signal('ownerId');
  protected readonly text = signal('');
  /** What the field may be set to, where that is one of a few. */
  protected readonly choices = computed((): readonly Option<string>[] | null => {
    const column = this.column();
    if (column?.type === 'standing')
      return named<string>(this.words.standings().map(({ standing }) => standing));
    if (column?.type === 'user')
      return [
        { value: 'nobody', words: $localize`nobody: into the pool` },
        ...named<string>(this.words.colleagues()),
      ];
    if (column?.type === 'choice')
      return [
        { value: '', words: $localize`empty` },
        ...(column.options ?? []).map(({ value, name }) => ({ value, words: name })),
      ];
    return null;
  });
  protected readonly task = signal({
    channel: 'call' as Channel,
    purpose: '',
    dueOn: this.user.today(),
    minutes: this.user.minutes().call,
    ownerId: null as UserId | null,
  });
  /** Whose the tasks are to be. */
  protected readonly owners = computed((): readonly Option<UserId | null>[] => [
    { value: null, words: $localize`each person’s own rep` },
    ...this.words.colleagues().map(({ id, name }) => ({ value: id as UserId | null, words: name })),
  ]);
  protected readonly plan = signal<BulkPlan | null>(null);
  protected readonly whyNot = computed(() => {
    const plan = this.plan();
    if (plan === null) return $localize`Say first what is to be changed.`;
    return plan.changes > 0 ? null : $localize`Nobody would be changed by it.`;
  });
  protected readonly progress = signal<BulkProgress | null>(null);
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly done = computed(() => {
    const now = this.progress();
    return now === null ? 0 : now.total - now.waiting;
  });
  protected readonly columns = computed(() =>
    columnsOf<ContactRow>(gridFields, this.words.fieldsOf('contact')).filter(
      (column) => column.cell !== null && column.type !== 'tags' && column.type !== 'person',
    ),
  );
  protected readonly fields = computed(() =>
    this.columns().map(({ cell, name }) => ({ value: cell ?? '', words: name })),
  );
  protected readonly column = computed(() => this.columns().find((each) => each.cell === this.field()));

  /** What is asked for so far; null while something is missing. */
  protected readonly act = computed((): BulkAct | null => {
    const text = this.text().trim();
    switch (this.kind()) {
      case 'add-tag':
      case 'remove-tag':
        return text === '' ? null : { kind: this.kind() as 'add-tag', tag: text };
      case 'task': {
        const { purpose } = this.task();
        return purpose.trim() === '' ? null : { kind: 'task', ...this.task(), promisedMinute: null };
      }
      case 'set': {
        const value = this.valueOf(text);
        return value === undefined ? null : ({ kind: 'set', field: this.field(), value } as BulkAct);
      }
    }
  });

  constructor() {
    this.words.wake();
    toObservable(this.act)
      .pipe(
        debounceTime(settleMillis),
        switchMap((act) =>
          act === null
            ? of(null)
            : this.api.call('planBulk', { body: this.body(act) }).pipe(
                catchError((error: unknown) => {
                  this.problem.set(problemOf(error));
                  return of(null);
                }),
              ),
        ),
        takeUntilDestroyed(),
      )
      .subscribe((plan) => {
        this.plan.set(plan);
        if (plan !== null) this.problem.set(null);
      });
    effect(() => {
      this.kind();
      this.field();
      untracked(() => this.text.set(''));
    });
    inject(ChangeStream)
      .of('bulk')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.look());
  }

  protected start(): void {
    const act = this.act();
    if (act === null) return;
    this.follow(this.api.call('startBulk', { body: this.body(act) }));
  }

  protected undo(): void {
    this.follow(this.api.call('undoBulk', { params: { id: this.id } }));
  }

  protected retry(): void {
    this.follow(this.api.call('retryBulk', { params: { id: this.id } }));
  }

  private follow(asked: Observable<BulkProgress>): void {
    asked.subscribe({
      next: (progress) => {
        this.problem.set(null);
        this.progress.set(progress);
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected close(): void {
    this.dialog.close(this.progress() !== null);
  }

  protected changeTask(part: object): void {
    this.task.update((task) => ({ ...task, ...part }));
  }

  private look(): void {
    if (this.progress() === null) return;
    this.api
      .call('getBulk', { params: { id: this.id } })
      .subscribe({ next: (progress) => this.progress.set(progress) });
  }

  private body(act: BulkAct): NonNullable<CallOf<'startBulk'>['body']> {
    return { id: this.id, selection: this.asked.selection, act } as NonNullable<CallOf<'startBulk'>['body']>;
  }

  /** What is wrong with what was typed, in the words of its field. */
  protected readonly unread = computed((): string | null => {
    const read = this.reading(this.text().trim());
    return read?.kind === 'wrong' ? read.reason : null;
  });

  /** What is read as it is typed: numbers and own fields. */
  private reading(text: string): ReadValue | null {
    const column = this.column();
    if (text === '' || !column || !(column.cell?.startsWith('custom:') || column.type === 'number'))
      return null;
    const choices = (column.options ?? []).map(({ value }) => value);
    return readCustomValue(text, { type: column.type as CustomFieldType, choices }, this.user.currency());
  }

  /** The typed value as the field holds it; undefined while it is none. */
  private valueOf(text: string): CellValue | undefined {
    const column = this.column();
    if (!column) return undefined;
    if (column.type === 'standing') return text || undefined;
    if (column.type === 'user') return text === '' ? undefined : text === 'nobody' ? null : text;
    if (text === '') return null;
    const read = this.reading(text);
    if (read !== null) return read.kind === 'read' ? read.value : undefined;
    return text;
  }
}
