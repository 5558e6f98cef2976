import { ChangeDetectionStrategy, Component, inject, linkedSignal, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { RoundSettingsBody } from '@kettle/contract';
import { readMoney } from '@kettle/core/money';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { Conflicts, Submission } from '../../kit/conflicts';
import { fieldParts } from '../../kit/field';
import { Failed, Waiting } from '../../kit/states';
import { CurrentUser } from '../../services/current-user';
import { Undo } from '../../services/undo';

/** One number as it is typed: a per cent, an amount of money, or as it is. */
interface Field {
  readonly path: string;
  readonly words: string;
  readonly kind: 'percent' | 'money' | 'number';
}

const fields: readonly Field[] = [
  { path: 'p0.reply', words: 'Chance: an answer to somebody who wrote, at once, %', kind: 'percent' },
  { path: 'p0.lead', words: 'Chance: a new lead, tried at once, %', kind: 'percent' },
  { path: 'p0.task', words: 'Chance: a task, done on its day, %', kind: 'percent' },
  { path: 'p0.step', words: 'Chance: a step of a cadence, on its day, %', kind: 'percent' },
  { path: 'p0.waking', words: 'Chance: a parked deal, taken up on its day, %', kind: 'percent' },
  { path: 'p0.stirring', words: 'Chance: a sign of life, followed up at once, %', kind: 'percent' },
  { path: 'silenceLossChance', words: 'Chance that silence loses a customer in a year, %', kind: 'percent' },
  { path: 'promiseMinor', words: 'Keeping a promise is worth at least', kind: 'money' },
  { path: 'leadMinor', words: 'A contact without a deal is expected to bring', kind: 'money' },
  { path: 'renewalDays', words: 'Days a renewal usually takes', kind: 'number' },
  { path: 'reserveMinutes', words: 'Minutes of a day kept free for what comes in', kind: 'number' },
];

/** What the Round reckons with: chances that acting on time brings what is at stake, and what things are worth. */
@Component({
  selector: 'kettle-round-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatCheckboxModule, MatButtonModule, Conflicts, FormsModule, Failed, Waiting],
  template: `
    <section aria-labelledby="round">
      <h2 id="round">Round</h2>
      <p class="soft">
        The Round puts first what costs most to leave. The chances say how often acting then brings what is at
        stake.
      </p>
      @if (typed(); as it) {
        <form (ngSubmit)="save()">
          <div class="form-grid">
            @for (field of fields; track field.path) {
              <mat-form-field>
                <mat-label>
                  {{ field.words }}{{ field.kind === 'money' ? ', ' + user.currency() : '' }}
                </mat-label>
                <input
                  matInput
                  inputmode="decimal"
                  [name]="field.path"
                  [ngModel]="it[field.path]"
                  (ngModelChange)="set(field.path, $event)"
                  required
                  [kettleProblem]="wrong()[field.path] ?? fieldProblem(field.path)"
                />
                @if (wrong()[field.path] ?? fieldProblem(field.path); as words) {
                  <mat-error>{{ words }}</mat-error>
                }
              </mat-form-field>
            }
          </div>
          <mat-checkbox name="learnsLead" [ngModel]="learnsLead()" (ngModelChange)="learnsLead.set($event)">
            Learn each night, from your own leads and won deals, what a contact without a deal brings
          </mat-checkbox>
          @if (saving.problem(); as problem) {
            <p class="wrong" role="alert">{{ problem.message }}</p>
          }
          <kettle-conflicts
            [problem]="saving.problem()"
            [sent]="saving.sent()"
            [label]="labelOf"
            [say]="sayOf"
            [(choices)]="saving.choices"
          />
          <button matButton="filled">Save the Round</button>
        </form>
      } @else if (stored.state().kind !== 'failed') {
        <kettle-waiting />
      }
      @if (stored.state(); as state) {
        @if (state.kind === 'failed') {
          <kettle-failed [problem]="state.problem" (again)="stored.again()" />
        }
      }
    </section>
  `,
  styleUrl: './settings-part.scss',
})
export class RoundSettingsPart {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  protected readonly user = inject(CurrentUser);
  protected readonly fields = fields;
  protected readonly stored = reading((_: null) => this.api.call('roundSettings'));
  /** The numbers as they are typed, by path. */
  protected readonly typed = linkedSignal((): Readonly<Record<string, string>> | null => {
    const stored = this.stored.value();
    return (
      stored &&
      Object.fromEntries(fields.map((field) => [field.path, say(field, valueAt(stored, field.path))]))
    );
  });
  protected readonly learnsLead = linkedSignal(() => this.stored.value()?.learnsLead ?? true);
  protected readonly wrong = signal<Readonly<Record<string, string>>>({});
  protected readonly saving = new Submission();
  protected readonly labelOf = (path: string) => fields.find((each) => each.path === path)?.words ?? null;
  /** What is wrong with a field; what somebody else changed too is asked about below all of them. */
  protected readonly fieldProblem = (path: string) => {
    const problem = this.saving.problem();
    return problem?.code === 'stale' ? null : (problem?.of(path) ?? null);
  };
  protected readonly sayOf = (path: string, value: unknown) => {
    const field = fields.find((each) => each.path === path);
    return field && typeof value === 'number' ? say(field, value) : null;
  };

  constructor() {
    this.stored.read(null);
  }

  protected set(path: string, text: string): void {
    this.typed.update((typed) => ({ ...typed, [path]: text }));
  }

  protected save(): void {
    const [typed, stored] = [this.typed(), this.stored.value()];
    if (typed === null || stored === null) return;
    const read = fields.map((field) => [field, readTyped(field, typed[field.path] ?? '')] as const);
    this.wrong.set(
      Object.fromEntries(
        read.filter(([, value]) => value === null).map(([field]) => [field.path, shouldBe[field.kind]]),
      ),
    );
    if (read.some(([, value]) => value === null)) return;
    const values = new Map(read.map(([field, value]) => [field.path, value!]));
    const of = (path: string) => values.get(path)!;
    const body: RoundSettingsBody = {
      version: stored.version,
      p0: {
        reply: of('p0.reply'),
        lead: of('p0.lead'),
        task: of('p0.task'),
        step: of('p0.step'),
        waking: of('p0.waking'),
        stirring: of('p0.stirring'),
      },
      silenceLossChance: of('silenceLossChance'),
      promiseMinor: of('promiseMinor'),
      leadMinor: of('leadMinor'),
      learnsLead: this.learnsLead(),
      renewalDays: of('renewalDays'),
      reserveMinutes: of('reserveMinutes'),
    };
    const changeId = v7();
    this.api.call('changeRoundSettings', { body: this.saving.bodyOf(body) }, changeId).subscribe({
      next: (saved) => {
        this.stored.put(saved);
        this.saving.clear();
        this.undo.offer('Saved: the Round reckons with these from now on.', changeId, () =>
          this.stored.again(),
        );
      },
      error: this.saving.refuse,
    });
  }
}

const shouldBe = {
  percent: 'must be a number from 0 to 100',
  money: 'must be an amount such as 120 or 4,400',
  number: 'must be a number',
} as const;

function valueAt(settings: RoundSettingsBody, path: string): number {
  const [first, second] = path.split('.') as [keyof RoundSettingsBody, string | undefined];
  const value = settings[first];
  return typeof value === 'number' ? value : (value as Record<string, number>)[second!]!;
}

function say({ kind }: Field, value: number): string {
  if (kind === 'percent') return String(Math.round(value * 1000) / 10);
  return kind === 'money' ? String(value / 100) : String(value);
}

function readTyped({ kind }: Field, text: string): number | null {
  if (kind === 'money') return readMoney(text);
  const value = text.trim() === '' ? NaN : Number(text.replace(',', '.'));
  if (!Number.isFinite(value) || value < 0) return null;
  if (kind === 'number') return value;
  return value > 100 ? null : Math.round(value * 10) / 1000;
}
