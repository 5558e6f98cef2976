import { LongChoiceField } from '../../kit/long-choice-field';
import { countryOptions, zoneOptions } from '../../kit/places';
import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { FormArray, FormGroup } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { CallOf, Company } from '@kettle/contract';
import { companyPlain } from '@kettle/contract/base/catalogues';
import { Api, ApiProblem } from '../../api/api';
import { field, formParts, RecordForm, required } from '../../kit/form';
import { CustomInputs, OwnFields, PeopleWords, plainControls, PlainInputs, readPlain } from '../fields/index';

type Site = Company['sites'][number];

const siteControls = (site: Partial<Site>) =>
  new FormGroup({
    id: field(site.id ?? null),
    name: field(site.name ?? ''),
    street: field(site.street ?? ''),
    postcode: field(site.postcode ?? ''),
    city: field(site.city ?? ''),
    country: field(site.country ?? ''),
    zone: field(site.zone ?? ''),
  });

/** Changes a company and its sites; a site's country and zone reach its people. */
@Component({
  selector: 'kettle-company-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [LongChoiceField, formParts, MatButtonModule, CustomInputs, PlainInputs],
  template: `
    <kettle-dialog-form
      [title]="texts.change(before.name)"
      [form]="form"
      [say]="own.say"
      [named]="own.named"
      (save)="save()"
    >
      <div class="form-grid">
        <kettle-text-field
          class="wide"
          label="Name"
          i18n-label
          [formControl]="form.controls.name"
          [most]="160"
        />
        <kettle-plain-inputs [catalogue]="plain" [controls]="form.controls" />
        <kettle-custom-inputs [fields]="own.fields()" [controls]="own.controls" />
      </div>
      @for (site of form.controls.sites.controls; track site; let at = $index) {
        <fieldset>
          <legend class="spread">
            <b>{{ at === 0 ? texts.mainSite : texts.site }}</b>
            @if (at > 0) {
              <button i18n matButton type="button" (click)="form.controls.sites.removeAt(at)">Remove</button>
            }
          </legend>
          <div class="site">
            <kettle-text-field label="Name" i18n-label [formControl]="site.controls.name" />
            <kettle-text-field label="Street" i18n-label [formControl]="site.controls.street" />
            <kettle-text-field label="Postcode" i18n-label [formControl]="site.controls.postcode" />
            <kettle-text-field label="Town" i18n-label [formControl]="site.controls.city" />
            <kettle-long-choice-field
              label="Country"
              i18n-label
              [formControl]="site.controls.country"
              [options]="countries"
            />
            <kettle-long-choice-field
              label="Time zone"
              i18n-label
              [formControl]="site.controls.zone"
              [options]="zones"
            />
          </div>
        </fieldset>
      }
      <button i18n class="add" matButton type="button" (click)="add()">Add a site</button>
    </kettle-dialog-form>
  `,
  styles: `
    .site {
      display: grid;
      grid-template-columns: 1fr 1fr 90px;
      gap: var(--space-2) var(--space-3);
    }
    .add {
      justify-self: start;
    }
  `,
})
export class CompanyDialog {
  protected readonly texts = {
    change: (name: string | number) => $localize`Change ${name}:name:`,
    mainSite: $localize`Main site`,
    site: $localize`Site`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<CompanyDialog>);
  protected readonly before = inject<Company>(MAT_DIALOG_DATA);
  private readonly words = inject(PeopleWords);
  protected readonly own = new OwnFields('company', this.before.custom);
  protected readonly plain = companyPlain;
  protected readonly countries = countryOptions();
  protected readonly zones = zoneOptions('', $localize`from the country`);
  protected readonly form = new RecordForm({
    name: required(this.before.name),
    ...plainControls(companyPlain, this.before),
    custom: this.own.controls,
    sites: new FormArray(this.before.sites.map(siteControls)),
  });

  constructor() {
    this.words.wake();
  }

  protected add(): void {
    const { country } = this.form.controls.sites.at(0).getRawValue();
    this.form.controls.sites.push(siteControls({ country }));
  }

  protected save(): void {
    const { controls, submission } = this.form;
    const custom = this.own.read();
    if (custom instanceof ApiProblem) return submission.problem.set(custom);
    const orNull = (text: string | null) => text?.trim() || null;
    const body = {
      version: this.before.version,
      name: controls.name.value,
      ...readPlain(companyPlain, controls),
      custom,
      sites: controls.sites.getRawValue().map((site) => ({
        id: site.id,
        name: site.name,
        street: orNull(site.street),
        postcode: orNull(site.postcode),
        city: orNull(site.city),
        country: site.country,
        zone: this.zoneOf(site),
      })),
    };
    this.form.send(
      body,
      (sent) =>
        this.api.call('changeCompany', {
          params: { id: this.before.id },
          body: sent as CallOf<'changeCompany'>['body'],
        }),
      (company) => this.dialog.close(company),
    );
  }

  /** A zone that was only shown follows the country when that is changed. */
  private zoneOf(site: { id: string | null; zone: string; country: string }): string | null {
    const was = this.before.sites.find((each) => each.id === site.id);
    const isShown = was !== undefined && was.zone === site.zone && was.country !== site.country;
    return isShown ? null : site.zone.trim() || null;
  }
}
