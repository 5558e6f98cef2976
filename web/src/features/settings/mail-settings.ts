import { ChangeDetectionStrategy, Component, inject, linkedSignal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { CallOf } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { Conflicts, Submission } from '../../kit/conflicts';
import { fieldParts } from '../../kit/field';
import { Failed, Waiting } from '../../kit/states';
import { Undo } from '../../services/undo';

type Settings = NonNullable<CallOf<'changeMailSettings'>['body']>;

/** How mail goes out: how much a day, how fast, how long it can be undone, and whether it is followed. */
@Component({
  selector: 'kettle-mail-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatCheckboxModule, MatButtonModule, Conflicts, FormsModule, Failed, Waiting],
  template: `
    <section aria-labelledby="mail">
      <h2 id="mail">Mail going out</h2>
      <p class="soft">For each sender. The servers themselves are set where the application is started.</p>
      @if (form(); as it) {
        <form (ngSubmit)="save()">
          <div class="form-grid">
            @for (each of numbers; track each.key) {
              <mat-form-field>
                <mat-label>{{ each.words }}</mat-label>
                <input
                  matInput
                  type="number"
                  [name]="each.key"
                  [min]="each.min"
                  [max]="each.max"
                  [ngModel]="it[each.key]"
                  (ngModelChange)="set(each.key, $event)"
                  required
                  [kettleProblem]="saving.problem()?.of(each.key)"
                />
                @if (saving.problem()?.of(each.key); as wrong) {
                  <mat-error>{{ wrong }}</mat-error>
                }
              </mat-form-field>
            }
          </div>
          @for (each of switches; track each.key) {
            <mat-checkbox [name]="each.key" [ngModel]="it[each.key]" (ngModelChange)="set(each.key, $event)">
              {{ each.words }}
            </mat-checkbox>
          }
          @if (saving.problem(); as wrong) {
            <p class="wrong" role="alert">{{ wrong.message }}</p>
          }
          <kettle-conflicts
            [problem]="saving.problem()"
            [sent]="saving.sent()"
            [label]="labelOf"
            [(choices)]="saving.choices"
          />
          <button matButton="filled">Save how mail goes out</button>
        </form>
      } @else if (list.state().kind !== 'failed') {
        <kettle-waiting />
      }
      @if (list.state(); as state) {
        @if (state.kind === 'failed') {
          <kettle-failed [problem]="state.problem" (again)="list.again()" />
        }
      }
    </section>
  `,
  styleUrl: './settings-part.scss',
})
export class MailSettingsPart {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  protected readonly list = reading((_: null) => this.api.call('mailSettings'));
  protected readonly form = linkedSignal((): Settings | null => this.list.value());
  protected readonly saving = new Submission();
  protected readonly labelOf = (path: string) =>
    [...this.numbers, ...this.switches].find(({ key }) => key === path)?.words ?? null;
  protected readonly numbers = [
    { key: 'dailyLimit', words: 'Mails a day at most', min: 1, max: 2000 },
    { key: 'paceSeconds', words: 'Seconds between two', min: 0, max: 3600 },
    { key: 'graceSeconds', words: 'Seconds in which a mail can still be cancelled', min: 0, max: 600 },
  ] as const;
  protected readonly switches = [
    { key: 'tracksOpens', words: 'See when a mail is opened, by a picture in it' },
    { key: 'tracksClicks', words: 'See when a link is followed, by links of ours' },
  ] as const;

  constructor() {
    this.list.read(null);
  }

  protected set(key: keyof Settings, value: number | boolean): void {
    const form = this.form();
    if (form !== null) this.form.set({ ...form, [key]: value });
  }

  protected save(): void {
    const body = this.form();
    if (body === null) return;
    const changeId = v7();
    this.api.call('changeMailSettings', { body: this.saving.bodyOf(body) }, changeId).subscribe({
      next: (saved) => {
        this.list.put(saved);
        this.saving.clear();
        this.undo.offer('Saved: mail goes out like this from now on.', changeId, () => this.list.again());
      },
      error: this.saving.refuse,
    });
  }
}
