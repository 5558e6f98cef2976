import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { CallOf, GiveRecords, UserId } from '@kettle/contract';
import { v7 } from 'uuid';
import { takeUntilDestroyed, toSignal } from '@angular/core/rxjs-interop';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { formParts, named, RecordForm, required } from '../../kit/form';
import { DayPipe } from '../../kit/say.pipes';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { PeopleWords } from '../fields/index';

export interface GiveAsked {
  readonly kind: GiveRecords['kind'];
  readonly ids: readonly string[];
  /** How many and what, `3 leads`. */
  readonly words: string;
}

const pool = 'pool';

/** Gives the picked ones to one colleague; leads also back to the pool, companies to nobody. */
@Component({
  selector: 'kettle-give-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts, DayPipe, MatCheckboxModule],
  template: `
    <kettle-dialog-form
      [title]="texts.changeTheOwnerOf(asked.words)"
      act="Change owner"
      i18n-act
      [form]="form"
      (save)="give()"
    >
      <kettle-choice-field
        label="New owner"
        i18n-label
        [formControl]="form.controls.ownerId"
        [options]="owners()"
        startsHere
      />
      @if (canShareOut()) {
        <fieldset>
          <legend i18n>In turn also to</legend>
          @for (each of others(); track each.id) {
            <mat-checkbox [checked]="alsoTo().has(each.id)" (change)="turn(each.id)">
              {{ each.name }}
            </mat-checkbox>
          }
          @if (alsoTo().size > 0) {
            <p i18n class="soft">They are shared out one after the other, evenly.</p>
          }
        </fieldset>
      }
      @for (person of days.value()?.people ?? []; track person.id) {
        <div class="days">
          <b>{{ person.name }}</b>
          @for (day of person.days; track day.on) {
            <span>{{ day.on | day: 'short' }}</span>
            <span i18n class="num">{{ day.plannedMinutes }} → {{ day.plannedMinutes + day.change }} min</span>
            <span class="num soft" [class.now]="day.leftMinutes < day.change">
              {{ texts.left(day.leftMinutes - day.change) }}
            </span>
          }
        </div>
      }
    </kettle-dialog-form>
  `,
  styles: `
    fieldset {
      display: grid;
      border: 0;
      padding: 0;
      margin: 0;
    }
    .days {
      display: grid;
      grid-template-columns: minmax(0, 1fr) auto auto;
      gap: 2px var(--space-3);
    }
    .days b {
      grid-column: 1 / -1;
    }
    .num {
      text-align: end;
    }
  `,
})
export class GiveDialog {
  protected readonly texts = {
    left: (minutes: number) =>
      minutes < 0 ? $localize`${-minutes}:minutes: min too many` : $localize`${minutes}:minutes: min left`,
    changeTheOwnerOf: (words: string | number) => $localize`Change the owner of ${words}:words:`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<GiveDialog>);
  private readonly undo = inject(Undo);
  private readonly notices = inject(Notices);
  private readonly people = inject(PeopleWords);
  protected readonly asked = inject<GiveAsked>(MAT_DIALOG_DATA);
  protected readonly form = new RecordForm({ ownerId: required<string>(null) });
  protected readonly owners = computed(() => [
    ...(this.asked.kind === 'lead' ? [{ value: pool, words: $localize`nobody: into the pool` }] : []),
    ...(this.asked.kind === 'company' ? [{ value: pool, words: $localize`nobody` }] : []),
    ...named<string>(this.people.colleagues()),
  ]);

  private readonly ownerId = toSignal(this.form.controls.ownerId.valueChanges, { initialValue: '' });
  /** Leads are shared out among several, where one of them is a person. */
  protected readonly canShareOut = computed(
    () => this.asked.kind === 'lead' && this.asked.ids.length > 1 && ![pool, ''].includes(this.ownerId()),
  );
  protected readonly others = computed(() =>
    this.people.colleagues().filter(({ id }) => id !== this.ownerId()),
  );
  protected readonly alsoTo = signal<ReadonlySet<UserId>>(new Set());

  /** Of tasks: what the days of both come to, before anything is given. */
  protected readonly days = reading((ownerId: string) => {
    const body = { ids: this.asked.ids, ownerId } as unknown as CallOf<'previewGive'>['body'];
    return this.api.call('previewGive', { body });
  });

  constructor() {
    this.people.wake();
    this.form.controls.ownerId.valueChanges.pipe(takeUntilDestroyed()).subscribe((ownerId) => {
      if (this.asked.kind === 'task' && ownerId !== '') this.days.read(ownerId);
    });
  }

  protected turn(id: UserId): void {
    this.alsoTo.update((now) => {
      const next = new Set(now);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  }

  protected give(): void {
    const { ownerId } = this.form.getRawValue();
    const changeId = v7();
    const { kind, ids } = this.asked;
    const also = this.canShareOut() ? [...this.alsoTo()].filter((id) => id !== ownerId) : [];
    this.form.send(
      { kind, ids, ownerId: ownerId === pool ? null : ownerId, ...(also.length > 0 && { alsoTo: also }) },
      (body) => this.api.call('giveRecords', { body: body as CallOf<'giveRecords'>['body'] }, changeId),
      ({ given, left }) => {
        this.dialog.close(true);
        const rest = left > 0 ? $localize` ${left} stay as they were: theirs already, or closed.` : '';
        const nobody = kind === 'lead' ? $localize`the pool` : 'nobody';
        const names = [ownerId, ...also].map((id) => this.people.colleague(id));
        const to = ownerId === pool ? nobody : names.join(', ');
        if (given === 0) this.notices.say($localize`Nothing changed.${rest}`);
        else
          this.undo.offer(
            $localize`${given}:given: now with ${to}:to:.${rest}:rest:`,
            changeId,
            () => undefined,
          );
      },
    );
  }
}
