import { ChangeDetectionStrategy, Component, effect, inject, input, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { FormArray, FormGroup } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { HolidayRegion, OrganisationSettings } from '@kettle/contract';
import { startWith, switchMap } from 'rxjs';
import { Api } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { field, formParts, required } from '../../kit/form';
import { LongChoiceField } from '../../kit/long-choice-field';
import { countryOptions } from '../../kit/places';
import { CurrentUser } from '../../services/current-user';

type DaysOff = Pick<OrganisationSettings, 'regions' | 'halfDaysOff' | 'ownDaysOff'>;

const regionControls = (country: string, region: string) =>
  new FormGroup({ country: required(country), region: required(region) });
const dayControls = (on: string | null, name: string) =>
  new FormGroup({ on: required(on), name: required(name) });

/** What is typed of the days off; stands in the organisation's form. */
export const daysOffControls = () => ({
  regions: new FormArray<ReturnType<typeof regionControls>>([]),
  halfDaysOff: field(false),
  ownDaysOff: new FormArray<ReturnType<typeof dayControls>>([]),
});

export type DaysOffControls = ReturnType<typeof daysOffControls>;

export function fillDaysOff(controls: DaysOffControls, { regions, halfDaysOff, ownDaysOff }: DaysOff): void {
  controls.regions.clear();
  for (const [country, region] of Object.entries(regions))
    controls.regions.push(regionControls(country, region));
  controls.halfDaysOff.setValue(halfDaysOff);
  controls.ownDaysOff.clear();
  for (const { on, name } of ownDaysOff) controls.ownDaysOff.push(dayControls(on, name));
}

export const sentDaysOff = ({ regions, halfDaysOff, ownDaysOff }: DaysOffControls): DaysOff => ({
  regions: Object.fromEntries(regions.getRawValue().map(({ country, region }) => [country, region])),
  halfDaysOff: halfDaysOff.value,
  ownDaysOff: ownDaysOff
    .getRawValue()
    .map(({ on, name }) => ({ on: on ?? '', name })) as DaysOff['ownDaysOff'],
});

/** Which holidays count, and the organisation's own days off. */
@Component({
  selector: 'kettle-days-off',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [LongChoiceField, DayField, formParts, MatButtonModule, MatCheckboxModule],
  template: `
    <h3 i18n>Days off</h3>
    <p i18n class="soft">
      Public holidays of each person’s country are days off, and its weekend for people whose hours are not
      known. Where holidays differ within a country those of its largest part count, unless you choose
      another.
    </p>
    @for (row of controls().regions.controls; track row; let at = $index) {
      <div class="row">
        <kettle-long-choice-field
          ariaLabel="Country"
          i18n-ariaLabel
          [formControl]="row.controls.country"
          [options]="countries"
        />
        <kettle-choice-field
          ariaLabel="Part of it"
          i18n-ariaLabel
          [formControl]="row.controls.region"
          [options]="partsOf(row.controls.country.value)"
        />
        <button i18n matButton type="button" (click)="controls().regions.removeAt(at)">remove</button>
      </div>
    }
    <button i18n matButton="outlined" type="button" (click)="addRegion()">Choose a part of a country</button>
    <mat-checkbox i18n [formControl]="controls().halfDaysOff">
      Half days, and days on which only banks are closed, are days off
    </mat-checkbox>
    @for (row of controls().ownDaysOff.controls; track row; let at = $index) {
      <div class="row">
        <kettle-day-field ariaLabel="Day" i18n-ariaLabel [formControl]="row.controls.on" />
        <kettle-text-field
          ariaLabel="What it is"
          i18n-ariaLabel
          placeholder="closed for stocktaking"
          i18n-placeholder
          [formControl]="row.controls.name"
          [most]="80"
        />
        <button i18n matButton type="button" (click)="controls().ownDaysOff.removeAt(at)">remove</button>
      </div>
    }
    <button i18n matButton="outlined" type="button" (click)="addDay()">Add a day of our own</button>
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-2);
      justify-items: start;
    }
    .row {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: var(--space-2);
    }
    .row kettle-long-choice-field,
    .row kettle-choice-field,
    .row kettle-text-field {
      inline-size: 220px;
    }
    .row kettle-day-field {
      inline-size: 160px;
    }
  `,
})
export class DaysOffPart {
  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  readonly controls = input.required<DaysOffControls>();
  protected readonly countries = countryOptions();
  private readonly known = signal<ReadonlyMap<string, readonly HolidayRegion[]>>(new Map());
  private readonly typed = toSignal(
    toObservable(this.controls).pipe(
      switchMap(({ regions }) => regions.valueChanges.pipe(startWith(regions.value))),
    ),
    { initialValue: [] },
  );

  constructor() {
    const asked = new Set<string>();
    effect(() => {
      for (const { country } of this.typed()) {
        if (!country || asked.has(country)) continue;
        asked.add(country);
        this.api
          .call('holidayRegions', { query: { country } })
          .subscribe(({ regions }) => this.known.update((known) => new Map(known).set(country, regions)));
      }
    });
  }

  protected partsOf(country: string) {
    const parts = this.known().get(country) ?? [];
    return parts.map(({ code, name }) => ({ value: code, words: name }));
  }

  protected addRegion(): void {
    const chosen = new Set(
      this.controls()
        .regions.getRawValue()
        .map(({ country }) => country),
    );
    const home = this.user.person()?.country ?? 'GB';
    this.controls().regions.push(regionControls(chosen.has(home) ? '' : home, ''));
  }

  protected addDay(): void {
    this.controls().ownDaysOff.push(dayControls(null, ''));
  }
}
