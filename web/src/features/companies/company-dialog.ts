import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { CallOf, Company } from '@kettle/contract';
import { companyPlain } from '@kettle/contract/base/catalogues';
import { Conflicts, resolvedOf, type Choices } from '../../kit/conflicts';
import { Api, ApiProblem, problemOf } from '../../api/api';
import { fieldParts } from '../../kit/field';
import {
  CustomInputs,
  PeopleWords,
  PlainInputs,
  addCustomTexts,
  plainTexts,
  readCustomTexts,
  readPlainTexts,
} from '../fields/index';

/** Changes a company and its sites; a site's country and zone reach its people. */
@Component({
  selector: 'kettle-company-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts, MatButtonModule, Conflicts, FormsModule, MatDialogModule, CustomInputs, PlainInputs],
  template: `
    <h2 mat-dialog-title>Change {{ before.name }}</h2>
    <form (ngSubmit)="save()">
      <mat-dialog-content>
        <div class="form-grid">
          <mat-form-field class="wide">
            <mat-label>Name</mat-label>
            <input
              matInput
              name="name"
              [(ngModel)]="form.name"
              maxlength="160"
              required
              autocomplete="off"
              [kettleProblem]="problem()?.of('name')"
            />
            @if (problem()?.of('name'); as wrong) {
              <mat-error>{{ wrong }}</mat-error>
            }
          </mat-form-field>
          <kettle-plain-inputs [catalogue]="plain" [values]="texts" [problem]="problem()" />
          <kettle-custom-inputs [fields]="fields()" [values]="custom" [problem]="problem()" />
        </div>
        @for (site of form.sites; track $index; let at = $index) {
          <fieldset>
            <legend class="spread">
              <b>{{ at === 0 ? 'Main site' : 'Site' }}</b>
              @if (at > 0) {
                <button matButton type="button" (click)="remove(at)">take it away</button>
              }
            </legend>
            <div class="site">
              @for (
                field of [
                  ['name', 'Name'],
                  ['street', 'Street'],
                  ['postcode', 'Postcode'],
                  ['city', 'Town'],
                  ['country', 'Country'],
                  ['zone', 'Time zone'],
                ];
                track field[0]
              ) {
                <mat-form-field>
                  <mat-label>{{ field[1] }}</mat-label>
                  <input
                    matInput
                    [name]="field[0]! + at"
                    [(ngModel)]="$any(site)[field[0]!]"
                    autocomplete="off"
                    [kettleProblem]="problem()?.of('sites.' + at + '.' + field[0])"
                  />
                  @if (problem()?.of('sites.' + at + '.' + field[0]); as wrong) {
                    <mat-error>{{ wrong }}</mat-error>
                  }
                </mat-form-field>
              }
            </div>
          </fieldset>
        }
        <button matButton type="button" (click)="add()">add a site</button>
        @if (problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.message }}</p>
        }
        <kettle-conflicts [problem]="problem()" [sent]="sent()" [(choices)]="choices" />
      </mat-dialog-content>
      <mat-dialog-actions align="end">
        <button matButton="outlined" type="button" mat-dialog-close>Cancel</button>
        <button matButton="filled">Save</button>
      </mat-dialog-actions>
    </form>
  `,
  styles: `
    mat-dialog-content {
      display: grid;
      gap: var(--space-3);
      justify-items: start;
    }
    .form-grid,
    fieldset {
      inline-size: 100%;
    }
    .site {
      display: grid;
      grid-template-columns: 1fr 1fr 90px;
      gap: var(--space-2) var(--space-3);
    }
  `,
})
export class CompanyDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<CompanyDialog>);
  protected readonly before = inject<Company>(MAT_DIALOG_DATA);
  protected readonly problem = signal<ApiProblem | null>(null);
  /** What was sent last, and whose value holds where somebody else changed the same field. */
  protected readonly sent = signal<object>({});
  protected readonly choices = signal<Choices>({});
  private readonly words = inject(PeopleWords);
  protected readonly fields = computed(() =>
    this.words.fields().filter((field) => field.subject === 'company'),
  );
  protected readonly custom: Record<string, string> = {};
  protected readonly plain = companyPlain;
  protected readonly texts = plainTexts(companyPlain, this.before);
  protected form = {
    name: this.before.name,
    sites: this.before.sites.map((site) => ({ ...site })),
  };

  constructor() {
    this.words.wake();
    effect(() => addCustomTexts(this.custom, this.before.custom, this.fields()));
  }

  protected add(): void {
    const { country } = this.form.sites[0]!;
    this.form.sites = [
      ...this.form.sites,
      { id: null, name: '', street: '', postcode: '', city: '', country, zone: '' },
    ];
  }

  protected remove(at: number): void {
    this.form.sites = this.form.sites.filter((_, index) => index !== at);
  }

  protected save(): void {
    const custom = readCustomTexts(this.custom, this.fields(), this.before.custom);
    if (custom instanceof ApiProblem) return this.problem.set(custom);
    const orNull = (text: string | null) => text?.trim() || null;
    const { name, sites } = this.form;
    const body = {
      version: this.before.version,
      ...resolvedOf(this.problem(), this.choices()),
      name,
      ...readPlainTexts(companyPlain, this.texts),
      custom,
      sites: sites.map((site) => ({
        id: site.id,
        name: site.name,
        street: orNull(site.street),
        postcode: orNull(site.postcode),
        city: orNull(site.city),
        country: site.country.trim().toUpperCase(),
        zone: this.zoneOf(site),
      })),
    } as CallOf<'changeCompany'>['body'];
    this.sent.set(body ?? {});
    this.api.call('changeCompany', { params: { id: this.before.id }, body }).subscribe({
      next: (company) => this.dialog.close(company),
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
      },
    });
  }

  /** A zone that was only shown follows the country when that is changed. */
  private zoneOf(site: Company['sites'][number]): string | null {
    const was = this.before.sites.find((each) => each.id === site.id);
    const isShown = was !== undefined && was.zone === site.zone && was.country !== site.country;
    return isShown ? null : site.zone.trim() || null;
  }
}
