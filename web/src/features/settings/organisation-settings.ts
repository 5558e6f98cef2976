import { LongChoiceField } from '../../kit/long-choice-field';
import { countryOptions, zoneOptions } from '../../kit/places';
import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormArray, FormGroup } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import type { OrganisationSettings } from '@kettle/contract';
import { Api } from '../../api/api';
import { DaysOffPart, daysOffControls, fillDaysOff, sentDaysOff } from './days-off';
import { DayField } from '../../kit/day-field';
import { field, keptSettings, pageFormParts, RecordForm, required, sameWords } from '../../kit/form';
import { CurrentUser } from '../../services/current-user';

type Rate = OrganisationSettings['rates'][number];

const rateControls = (rate: Omit<Rate, 'rate'> & { readonly rate: number | null }) =>
  new FormGroup({
    currency: required(rate.currency),
    rate: required(rate.rate),
    from: required(rate.from),
  });

/** Where the organisation is, what it counts in, and what foreign money is worth there. */
@Component({
  selector: 'kettle-organisation-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [LongChoiceField, DayField, DaysOffPart, pageFormParts, MatButtonModule],
  template: `
    <section aria-labelledby="organisation">
      <h2 i18n id="organisation">Organisation</h2>
      <kettle-page-form
        act="Save the organisation"
        i18n-act
        [form]="form"
        [stored]="settings.stored"
        (save)="settings.save()"
      >
        <div class="form-grid">
          <kettle-text-field
            label="Name, as customers know it"
            i18n-label
            [formControl]="form.controls.name"
            class="wide"
          />
          <kettle-long-choice-field
            label="Currency"
            i18n-label
            [formControl]="form.controls.currency"
            [options]="currencies"
          />
          <kettle-long-choice-field
            label="Country"
            i18n-label
            [formControl]="form.controls.homeCountry"
            [options]="countries"
          />
          <kettle-long-choice-field
            label="Time zone"
            i18n-label
            [formControl]="form.controls.homeZone"
            [options]="zones()"
          />
          <kettle-number-field
            label="People of one company planned on one day, at most"
            i18n-label
            [formControl]="form.controls.companyDailyLimit"
            [min]="1"
            [max]="100"
          />
        </div>
        <h3 i18n>Foreign money</h3>
        <p i18n class="soft">
          A deal or an agreement can be in any currency that has a rate here. Sums are in {{ currency() }}:
          what is open at today’s rate, what was closed at the rate of that day.
        </p>
        @if (hasNewHome()) {
          <p i18n class="now" role="status">
            The currency is another one now: say anew what the others are worth in {{ currency() }}. What is
            in {{ settings.stored.value()?.currency }} needs a rate as well.
          </p>
        }
        @for (rate of form.controls.rates.controls; track rate; let at = $index) {
          <div class="rate">
            <span>1</span>
            <kettle-choice-field
              ariaLabel="Currency"
              i18n-ariaLabel
              [formControl]="rate.controls.currency"
              [options]="codes"
            />
            <span i18n>is</span>
            <kettle-number-field
              kind="decimal"
              ariaLabel="Rate"
              i18n-ariaLabel
              placeholder="0.86"
              [formControl]="rate.controls.rate"
            />
            <span i18n>{{ currency() }} from</span>
            <kettle-day-field ariaLabel="From" i18n-ariaLabel [formControl]="rate.controls.from" />
            <button i18n matButton type="button" (click)="form.controls.rates.removeAt(at)">remove</button>
          </div>
        }
        <button i18n matButton="outlined" type="button" (click)="addRate()">Add a rate</button>
        <kettle-days-off [controls]="form.controls" />
      </kettle-page-form>
    </section>
  `,
  styles: `
    .rate {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: var(--space-2);
    }
    .rate kettle-number-field,
    .rate kettle-choice-field {
      inline-size: 110px;
    }
    .rate kettle-day-field {
      inline-size: 160px;
    }
  `,
  styleUrl: './settings-part.scss',
})
export class OrganisationSettingsPart {
  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  protected readonly form = new RecordForm({
    name: field(''),
    currency: required(''),
    homeCountry: required(''),
    homeZone: required(''),
    companyDailyLimit: required<number>(null),
    rates: new FormArray<ReturnType<typeof rateControls>>([]),
    ...daysOffControls(),
  });
  protected readonly settings = keptSettings(this.form, {
    read: () => this.api.call('organisationSettings'),
    save: (body: OrganisationSettings, changeId) =>
      this.api.call('changeOrganisationSettings', { body }, changeId),
    body: (stored) => this.sent(stored),
    fill: (stored) => this.fill(stored),
    saved: $localize`Saved: it holds from now on.`,
    // Amounts everywhere are said in the currency of the session, and days off are left out.
    after: () => this.api.call('session').subscribe((session) => this.user.enter(session)),
  });
  private readonly names = new Intl.DisplayNames('en', { type: 'currency' });
  protected readonly codes = sameWords(Intl.supportedValuesOf('currency'));
  protected readonly currencies = this.codes.map(({ value }) => ({
    value,
    words: `${value} · ${this.names.of(value) ?? value}`,
  }));
  protected readonly currency = toSignal(this.form.controls.currency.valueChanges, { initialValue: '' });
  /** The zone at hand is among them, also when this browser calls it otherwise. */
  protected readonly zones = computed(() => zoneOptions(this.settings.stored.value()?.homeZone ?? ''));
  protected readonly countries = countryOptions();
  protected readonly hasNewHome = computed(() => {
    const stored = this.settings.stored.value();
    return stored !== null && this.currency() !== '' && this.currency() !== stored.currency;
  });
  private home = '';

  constructor() {
    this.form.controls.currency.valueChanges.subscribe((currency) => {
      // Half typed, it is none yet.
      if (currency === '') return;
      // A rate says what is worth in the currency that was there before.
      if (currency !== this.home && this.home !== '')
        for (const { controls } of this.form.controls.rates.controls) controls.rate.setValue(null as never);
      this.home = currency;
    });
  }

  private fill({ rates, regions, halfDaysOff, ownDaysOff, ...rest }: OrganisationSettings): void {
    this.home = '';
    fillDaysOff(this.form.controls, { regions, halfDaysOff, ownDaysOff });
    this.form.controls.rates.clear();
    for (const rate of rates) this.form.controls.rates.push(rateControls(rate));
    this.form.patchValue(rest);
  }

  private sent(stored: OrganisationSettings): OrganisationSettings {
    const { homeCountry, rates, ...typed } = this.form.getRawValue();
    return { ...stored, ...typed, homeCountry, rates: rates as Rate[], ...sentDaysOff(this.form.controls) };
  }

  protected addRate(): void {
    const currency = ['EUR', 'USD', 'GBP'].find((code) => code !== this.currency())!;
    this.form.controls.rates.push(rateControls({ currency, from: this.user.today(), rate: null }));
  }
}
