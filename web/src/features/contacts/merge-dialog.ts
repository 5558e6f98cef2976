import { tableParts } from '../../kit/table';
import { PhoneWords } from '../../kit/phone.pipe';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatRadioModule } from '@angular/material/radio';
import type { CallOf, Contact, MergeField } from '@kettle/contract';
import { contactPlain } from '@kettle/contract/base/catalogues';
import { mergeFieldLabel } from '@kettle/contract/labels';
import { forkJoin } from 'rxjs';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { Waiting } from '../../kit/states';
import { WhyNot } from '../../kit/why-not';
import { PeopleWords } from '../fields/index';

interface Asked {
  readonly oneId: string;
  readonly otherId: string;
}

const gapsFill: readonly MergeField[] = ['company', 'email', 'phone', 'checkIn', ...contactPlain.keys];

/** Two contacts side by side: which one stays, and for each field that differs whose value. */
@Component({
  selector: 'kettle-merge-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [tableParts, WhyNot, MatRadioModule, MatButtonModule, MatDialogModule, Waiting],
  template: `
    <h2 i18n mat-dialog-title>Make two contacts one</h2>
    <mat-dialog-content>
      @if (both.value(); as pair) {
        <ng-template #keepOne>
          <mat-radio-button i18n name="keep" [checked]="!keepsOther()" (change)="keep(false)">
            {{ pair.one.name }} stays
          </mat-radio-button>
        </ng-template>
        <ng-template #keepOther>
          <mat-radio-button i18n name="keep" [checked]="keepsOther()" (change)="keep(true)">
            {{ pair.other.name }} stays
          </mat-radio-button>
        </ng-template>
        <kettle-table
          [rows]="differing()"
          label="In what they differ"
          i18n-label
          [by]="fieldOf"
          empty="They differ in nothing."
          i18n-empty
        >
          <ng-template [kettleColumn]="differing()" head="field" i18n-head isSilent let-row>
            {{ labels[row.field] }}
          </ng-template>
          <ng-template [kettleColumn]="differing()" [head]="pair.one.name" [headOf]="keepOne" let-row>
            <mat-radio-button
              [name]="row.field"
              [checked]="row.chosen === 'one'"
              (change)="choose(row.field, 'one')"
            >
              {{ row.one || '—' }}
            </mat-radio-button>
          </ng-template>
          <ng-template [kettleColumn]="differing()" [head]="pair.other.name" [headOf]="keepOther" let-row>
            <mat-radio-button
              [name]="row.field"
              [checked]="row.chosen === 'other'"
              (change)="choose(row.field, 'other')"
            >
              {{ row.other || '—' }}
            </mat-radio-button>
          </ng-template>
        </kettle-table>
        <p i18n class="soft">
          Journal, tasks, deals, cadences, files, tags and marks of both stay. Addresses, numbers and
          companies that are not chosen become further ones; other values are written into the journal. It can
          be undone for 30 days.
        </p>
      } @else {
        <kettle-waiting />
      }
      @if (problem(); as wrong) {
        <p class="wrong" role="alert">{{ wrong.message }}</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button i18n matButton="outlined" type="button" mat-dialog-close>Cancel</button>
      <button
        i18n
        matButton="filled"
        type="button"
        [kettleWhyNot]="both.value() ? null : texts.bothAreStillBeing"
        (click)="merge()"
      >
        Merge
      </button>
    </mat-dialog-actions>
  `,
})
export class MergeDialog {
  protected readonly texts = {
    bothAreStillBeing: $localize`Both are still being read.`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<MergeDialog>);
  private readonly words = inject(PeopleWords);
  private readonly phones = inject(PhoneWords);
  private readonly asked = inject<Asked>(MAT_DIALOG_DATA);
  protected readonly labels = mergeFieldLabel;
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly keepsOther = signal(false);
  private readonly chosen = signal<ReadonlyMap<MergeField, 'one' | 'other'>>(new Map());
  protected readonly both = reading(({ oneId, otherId }: Asked) =>
    forkJoin({
      one: this.api.call('getContact', { params: { id: oneId } }),
      other: this.api.call('getContact', { params: { id: otherId } }),
    }),
  );
  protected readonly fieldOf = ({ field }: { readonly field: MergeField }): string => field;
  protected readonly differing = computed(() => this.rows().filter((row) => row.differs));
  private readonly rows = computed(() => {
    const pair = this.both.value();
    if (pair === null) return [];
    const kept = this.keepsOther() ? 'other' : 'one';
    return (Object.keys(mergeFieldLabel) as MergeField[]).map((field) => {
      const [one, other] = [this.say(pair.one, field), this.say(pair.other, field)];
      const usual =
        gapsFill.includes(field) && !(kept === 'one' ? one : other)
          ? kept === 'one'
            ? 'other'
            : 'one'
          : kept;
      return { field, one, other, differs: one !== other, chosen: this.chosen().get(field) ?? usual };
    });
  });

  constructor() {
    this.words.wake();
    this.both.read(this.asked);
  }

  protected keep(isOther: boolean): void {
    this.keepsOther.set(isOther);
    this.chosen.set(new Map());
  }

  protected choose(field: MergeField, side: 'one' | 'other'): void {
    this.chosen.update((chosen) => new Map(chosen).set(field, side));
  }

  protected merge(): void {
    const pair = this.both.value();
    if (pair === null) return;
    const [keep, gone] = this.keepsOther() ? [pair.other, pair.one] : [pair.one, pair.other];
    const goneSide = this.keepsOther() ? 'one' : 'other';
    const take = this.rows()
      .filter((row) => row.differs && row.chosen === goneSide)
      .map((row) => row.field);
    const body: CallOf<'mergeContacts'>['body'] = {
      keepId: keep.id,
      keepVersion: keep.version,
      goneId: gone.id,
      goneVersion: gone.version,
      take,
    };
    this.api.call('mergeContacts', { body }).subscribe({
      next: ({ mergeId, contact }) => this.dialog.close({ mergeId, name: contact.name }),
      error: (error: unknown) => {
        const problem = problemOf(error);
        this.problem.set(problem);
        // Somebody changed one of them: both are shown as they are now.
        if (problem.code === 'stale') this.both.again();
      },
    });
  }

  private say(contact: Contact, field: MergeField): string {
    switch (field) {
      case 'company':
        return contact.companyName ?? '';
      case 'standing':
        return this.words.standing(contact.standingId);
      case 'checkIn':
        return contact.checkInDays === null ? '' : $localize`${contact.checkInDays} days`;
      case 'owner':
        return contact.ownerName ?? '';
      case 'phone':
        return contact.phone === null ? '' : this.phones.say(contact.phone);
      case 'country':
        return `${contact.country} · ${contact.zone}`;
      default:
        return contact[field] ?? '';
    }
  }
}
