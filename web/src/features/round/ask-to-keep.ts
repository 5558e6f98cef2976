import { ChangeDetectionStrategy, Component, computed, effect, inject, Injectable } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import { MatRadioModule } from '@angular/material/radio';
import type { CallOf, Channel, RoundRow } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { firstValueFrom, type Observable } from 'rxjs';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { field, formParts, labelled, type Option, RecordForm, required } from '../../kit/form';
import { LateDialog } from '../../kit/late-dialog';
import { CurrentUser } from '../../services/current-user';
import { Undo } from '../../services/undo';
import { PeopleWords } from '../fields/index';

type What = 'do' | 'shorten' | 'hand-on' | 'drop' | 'move';
/** What is left to do for whoever asked: the row was changed already, or they do it, or move it. */
export type Kept = 'do' | 'move' | 'changed';

/** Asks what is wrong with a row that was moved three times, and carries that out. */
@Injectable({ providedIn: 'root' })
export class AskToKeep {
  private readonly dialogs = inject(LateDialog);

  /** Nothing, when that is left. */
  async ask(row: RoundRow): Promise<Kept | undefined> {
    const opened = await this.dialogs.open<unknown, RoundRow, Kept>(AskToKeepDialog, {
      data: row,
      width: '460px',
    });
    return firstValueFrom(opened.afterClosed());
  }
}

/** It is done now, made shorter, handed on, or dropped with a reason; or it moves once more, and is asked about again. */
@Component({
  selector: 'kettle-ask-to-keep-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts, MatRadioModule],
  template: `
    <kettle-dialog-form [title]="title" [act]="act()" [form]="form" (save)="save()">
      <p i18n class="soft">It was moved three times or more. What is wrong with it?</p>
      <mat-radio-group
        [formControl]="form.controls.what"
        aria-label="What is wrong with it"
        i18n-aria-label
        class="choices"
      >
        @for (each of choices; track each.value) {
          <mat-radio-button [value]="each.value">
            <b>{{ each.words }}</b>
            <span class="soft">{{ each.why }}</span>
          </mat-radio-button>
        }
      </mat-radio-group>
      @switch (what()) {
        @case ('shorten') {
          <div class="form-grid">
            <kettle-choice-field
              label="How"
              i18n-label
              [formControl]="form.controls.channel"
              [options]="channels"
            />
            <kettle-number-field
              label="Minutes"
              i18n-label
              kind="minutes"
              [formControl]="form.controls.minutes"
              [min]="1"
              [max]="480"
            />
          </div>
        }
        @case ('hand-on') {
          <kettle-choice-field
            label="To"
            i18n-label
            [formControl]="form.controls.ownerId"
            [options]="colleagues()"
          />
        }
        @case ('drop') {
          <kettle-text-field label="Reason" i18n-label [formControl]="form.controls.reason" [most]="300" />
        }
      }
    </kettle-dialog-form>
  `,
  styles: `
    .choices {
      display: grid;
    }
    .choices .soft {
      margin-inline-start: var(--space-2);
    }
  `,
})
class AskToKeepDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject<MatDialogRef<AskToKeepDialog, Kept>>(MatDialogRef);
  private readonly undo = inject(Undo);
  private readonly user = inject(CurrentUser);
  private readonly people = inject(PeopleWords);
  protected readonly row = inject<RoundRow>(MAT_DIALOG_DATA);
  protected readonly title = `${this.row.contactName}: ${this.row.purpose}`;
  protected readonly channels: readonly Option<Channel>[] = labelled(channelLabel);
  protected readonly choices: readonly { value: What; words: string; why: string }[] = [
    { value: 'do', words: $localize`Nothing`, why: $localize`I do it now` },
    { value: 'shorten', words: $localize`It is too big`, why: $localize`make it shorter` },
    { value: 'hand-on', words: $localize`It is not mine`, why: $localize`hand it on` },
    { value: 'drop', words: $localize`It is not worth it`, why: $localize`drop it` },
    { value: 'move', words: $localize`The day is wrong`, why: $localize`move it once more` },
  ];
  protected readonly form = new RecordForm({
    what: field<What>('do'),
    channel: field<Channel>(this.row.channel),
    minutes: field<number | null>(Math.max(1, Math.round(this.row.minutes / 2))),
    ownerId: required(''),
    reason: required(''),
  });
  protected readonly what = toSignal(this.form.controls.what.valueChanges, { initialValue: 'do' });
  protected readonly colleagues = computed((): readonly Option<string>[] =>
    this.people
      .colleagues()
      .filter(({ id }) => id !== this.user.person()?.id)
      .map(({ id, name }) => ({ value: id, words: name })),
  );
  protected readonly act = computed(() => {
    switch (this.what()) {
      case 'do':
        return $localize`Do it now`;
      case 'shorten':
        return $localize`Shorten`;
      case 'hand-on':
        return $localize`Hand on`;
      case 'drop':
        return $localize`Drop`;
      case 'move':
        return $localize`Choose a day`;
    }
  });

  constructor() {
    const { ownerId, reason } = this.form.controls;
    // Only what belongs to the answer has to be filled in.
    effect(() => {
      const what = this.what();
      ownerId[what === 'hand-on' ? 'enable' : 'disable']();
      reason[what === 'drop' ? 'enable' : 'disable']();
    });
  }

  protected save(): void {
    const { what, channel, minutes, ownerId, reason } = this.form.getRawValue();
    switch (what) {
      case 'do':
      case 'move':
        return this.dialog.close(what);
      case 'shorten':
        return this.change({ channel, minutes: minutes ?? this.row.minutes }, $localize`Shortened.`);
      case 'hand-on':
        return this.change(
          { ownerId: ownerId as NonNullable<Change['ownerId']> },
          $localize`Handed on to ${this.colleagues().find(({ value }) => value === ownerId)?.words ?? ''}:name:.`,
        );
      case 'drop':
        return this.send(
          { params: { id: this.row.taskId! }, body: { reason: reason.trim() } },
          (call, changeId) => this.api.call('dropTask', call, changeId),
          $localize`Dropped, with its reason.`,
        );
    }
  }

  private change(part: Partial<Change>, words: string): void {
    this.send(
      { params: { id: this.row.taskId! }, body: { version: this.row.taskVersion!, ...part } },
      (call, changeId) => this.api.call('changeTask', call, changeId),
      words,
    );
  }

  private send<Call extends object>(
    call: Call,
    ask: (call: Call, changeId: string) => Observable<unknown>,
    words: string,
  ): void {
    const changeId = v7();
    this.form.send(
      call,
      (body) => ask(body, changeId),
      () => {
        this.undo.offer(words, changeId);
        this.dialog.close('changed');
      },
    );
  }
}

type Change = NonNullable<CallOf<'changeTask'>['body']>;
