import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import type { OrganisationSettings } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { Conflicts, Submission } from '../../kit/conflicts';
import { DayField } from '../../kit/day-field';
import { choiceParts } from '../../kit/choice';
import { Failed, Waiting } from '../../kit/states';
import { CurrentUser } from '../../services/current-user';
import { Undo } from '../../services/undo';

/** A rate as it is typed. */
interface TypedRate {
  readonly currency: string;
  readonly from: string;
  readonly rate: string;
}

/** Where the organisation is, what it counts in, and what foreign money is worth there. */
@Component({
  selector: 'kettle-organisation-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayField, choiceParts, MatButtonModule, Conflicts, FormsModule, Failed, Waiting],
  template: `
    <section aria-labelledby="organisation">
      <h2 id="organisation">Organisation</h2>
      @if (form(); as it) {
        <form (ngSubmit)="save()">
          <div class="form-grid">
            <mat-form-field>
              <mat-label>Currency</mat-label>
              <mat-select
                name="currency"
                [ngModel]="it.currency"
                (ngModelChange)="set({ currency: $event })"
                [kettleProblem]="saving.problem()?.of('currency')"
              >
                @for (code of currencies; track code) {
                  <mat-option [value]="code">{{ code }} · {{ nameOf(code) }}</mat-option>
                }
              </mat-select>
              @if (saving.problem()?.of('currency'); as wrong) {
                <mat-error>{{ wrong }}</mat-error>
              }
            </mat-form-field>
            <mat-form-field>
              <mat-label>Country (two letters)</mat-label>
              <input
                matInput
                name="homeCountry"
                maxlength="2"
                [ngModel]="it.homeCountry"
                (ngModelChange)="set({ homeCountry: $event.toUpperCase() })"
                required
                [kettleProblem]="saving.problem()?.of('homeCountry')"
              />
              @if (saving.problem()?.of('homeCountry'); as wrong) {
                <mat-error>{{ wrong }}</mat-error>
              }
            </mat-form-field>
            <mat-form-field>
              <mat-label>Time zone</mat-label>
              <mat-select
                name="homeZone"
                [ngModel]="it.homeZone"
                (ngModelChange)="set({ homeZone: $event })"
                [kettleProblem]="saving.problem()?.of('homeZone')"
              >
                @for (zone of zones(); track zone) {
                  <mat-option [value]="zone">{{ zone }}</mat-option>
                }
              </mat-select>
              @if (saving.problem()?.of('homeZone'); as wrong) {
                <mat-error>{{ wrong }}</mat-error>
              }
            </mat-form-field>
            <mat-form-field>
              <mat-label>People of one company planned on one day, at most</mat-label>
              <input
                matInput
                name="companyDailyLimit"
                type="number"
                min="1"
                max="100"
                [ngModel]="it.companyDailyLimit"
                (ngModelChange)="set({ companyDailyLimit: $event })"
                required
                [kettleProblem]="saving.problem()?.of('companyDailyLimit')"
              />
              @if (saving.problem()?.of('companyDailyLimit'); as wrong) {
                <mat-error>{{ wrong }}</mat-error>
              }
            </mat-form-field>
          </div>
          <h3>Foreign money</h3>
          <p class="soft">
            A deal or an agreement can be in any currency that has a rate here. Sums are in {{ it.currency }}:
            what is open at today’s rate, what was closed at the rate of that day.
          </p>
          @if (hasNewHome()) {
            <p class="now" role="status">
              The currency is another one now: say anew what the others are worth in {{ it.currency }}. What
              is in {{ stored.value()?.currency }} needs a rate as well.
            </p>
          }
          @for (rate of rates(); track $index; let at = $index) {
            <div class="rate">
              <span>1</span>
              <mat-form-field class="small">
                <mat-select
                  [name]="'currency' + at"
                  aria-label="Currency"
                  [ngModel]="rate.currency"
                  (ngModelChange)="setRate(at, { currency: $event })"
                >
                  @for (code of currencies; track code) {
                    <mat-option [value]="code">{{ code }}</mat-option>
                  }
                </mat-select>
              </mat-form-field>
              <span>is</span>
              <mat-form-field class="small">
                <input
                  matInput
                  [name]="'rate' + at"
                  inputmode="decimal"
                  aria-label="Rate"
                  placeholder="0.86"
                  [ngModel]="rate.rate"
                  (ngModelChange)="setRate(at, { rate: $event })"
                  required
                />
              </mat-form-field>
              <span>{{ it.currency }} from</span>
              <kettle-day-field
                [name]="'from' + at"
                ariaLabel="From"
                [ngModel]="rate.from"
                (ngModelChange)="setRate(at, { from: $event })"
                required
              />
              <button matButton type="button" (click)="dropRate(at)">remove</button>
              @for (field of ['currency', 'rate', 'from']; track field) {
                @if (saving.problem()?.of('rates.' + at + '.' + field); as wrong) {
                  <span class="wrong">{{ wrong }}</span>
                }
              }
            </div>
          }
          <button matButton="outlined" type="button" (click)="addRate()">Add a rate</button>
          @if (saving.problem(); as wrong) {
            <p class="wrong" role="alert">{{ wrong.message }}</p>
          }
          <kettle-conflicts
            [problem]="saving.problem()"
            [sent]="saving.sent()"
            [(choices)]="saving.choices"
          />
          <button matButton="filled">Save the organisation</button>
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
  styles: `
    .rate {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: var(--space-2);
    }
    .rate .plain {
      inline-size: 90px;
    }
    .rate [type='date'] {
      inline-size: 150px;
    }
  `,
  styleUrl: './settings-part.scss',
})
export class OrganisationSettingsPart {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly user = inject(CurrentUser);
  protected readonly stored = reading((_: null) => this.api.call('organisationSettings'));
  protected readonly form = linkedSignal(() => this.stored.value());
  protected readonly rates = linkedSignal((): readonly TypedRate[] =>
    (this.stored.value()?.rates ?? []).map(({ rate, ...each }) => ({ ...each, rate: String(rate) })),
  );
  protected readonly saving = new Submission();
  protected readonly currencies = Intl.supportedValuesOf('currency');
  /** The zone at hand is among them, also when this browser calls it otherwise. */
  protected readonly zones = computed(() => {
    const known = Intl.supportedValuesOf('timeZone');
    const own = this.form()?.homeZone;
    return own === undefined || known.includes(own) ? known : [own, ...known];
  });
  protected readonly hasNewHome = computed(() => this.form()?.currency !== this.stored.value()?.currency);
  private readonly names = new Intl.DisplayNames('en', { type: 'currency' });

  constructor() {
    this.stored.read(null);
  }

  protected nameOf(code: string): string {
    return this.names.of(code) ?? code;
  }

  protected set(part: Partial<OrganisationSettings>): void {
    const form = this.form();
    if (form === null) return;
    this.form.set({ ...form, ...part });
    // A rate says what is worth in the currency that was there before.
    if (part.currency !== undefined && part.currency !== form.currency)
      this.rates.update((rates) => rates.map((rate) => ({ ...rate, rate: '' })));
  }

  protected setRate(at: number, part: Partial<TypedRate>): void {
    this.rates.update((rates) => rates.map((rate, index) => (index === at ? { ...rate, ...part } : rate)));
  }

  protected dropRate(at: number): void {
    this.rates.update((rates) => rates.filter((_, index) => index !== at));
  }

  protected addRate(): void {
    const own = this.form()?.currency;
    const currency = ['EUR', 'USD', 'GBP'].find((code) => code !== own)!;
    this.rates.update((rates) => [...rates, { currency, from: this.user.today(), rate: '' }]);
  }

  protected save(): void {
    const form = this.form();
    if (form === null) return;
    const rates = this.rates().map((each) => ({
      ...each,
      // What is no number is refused by the server, at its place.
      rate: each.rate.trim() === '' ? (null as never) : Number(each.rate.replace(',', '.')),
    }));
    const changeId = v7();
    this.api
      .call('changeOrganisationSettings', { body: this.saving.bodyOf({ ...form, rates }) }, changeId)
      .subscribe({
        next: (saved) => {
          this.stored.put(saved);
          this.saving.clear();
          this.undo.offer('Saved: money is counted like this from now on.', changeId, () => this.again());
          this.again();
        },
        error: this.saving.refuse,
      });
  }

  /** Amounts everywhere are said in the currency of the session. */
  private again(): void {
    this.stored.again();
    this.api.call('session').subscribe((session) => this.user.enter(session));
  }
}
