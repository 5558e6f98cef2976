import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import type { SellingSettings } from '@kettle/contract';
import { Api } from '../../api/api';
import { field, keptSettings, pageFormParts, RecordForm, required } from '../../kit/form';

type Block = SellingSettings['blocks'][number];

/** Who sells, as quotes name it, and what they begin with. */
@Component({
  selector: 'kettle-selling-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIcon, pageFormParts],
  template: `
    <section>
      <h2 i18n>Quotes and invoices</h2>
      <p i18n class="soft">
        The name and country are those of the organisation. What was sent keeps what it was sent with.
      </p>
      <kettle-page-form
        act="Save"
        i18n-act
        [form]="form"
        [stored]="settings.stored"
        [named]="nameOf"
        (save)="settings.save()"
      >
        <div class="form-grid">
          <kettle-text-field label="Street" i18n-label [formControl]="form.controls.street" [most]="160" />
          <kettle-text-field label="Postcode" i18n-label [formControl]="form.controls.postcode" [most]="20" />
          <kettle-text-field label="Town" i18n-label [formControl]="form.controls.city" [most]="160" />
          <kettle-text-field label="VAT number" i18n-label [formControl]="form.controls.vatId" [most]="16" />
          <kettle-text-field
            label="E-mail for questions"
            i18n-label
            [formControl]="form.controls.email"
            [most]="254"
          />
          <kettle-text-field
            label="How it is paid"
            i18n-label
            [formControl]="form.controls.payment"
            [most]="300"
          />
          <kettle-number-field
            label="Usual tax in per cent"
            i18n-label
            kind="decimal"
            [formControl]="form.controls.taxPercent"
            [min]="0"
            [max]="100"
          />
          <kettle-number-field
            label="Valid for days"
            i18n-label
            [formControl]="form.controls.validDays"
            [min]="1"
            [max]="365"
          />
          <kettle-number-field
            label="Days before its end on which it is asked about"
            i18n-label
            [formControl]="form.controls.remindDays"
            [min]="0"
            [max]="60"
          />
          <kettle-number-field
            label="Days until an invoice is to be paid"
            i18n-label
            [formControl]="form.controls.paymentDays"
            [min]="0"
            [max]="365"
          />
        </div>
        <kettle-text-field
          class="wide"
          label="Before the lines"
          i18n-label
          [rows]="3"
          [formControl]="form.controls.intro"
          [most]="4000"
        />
        <kettle-text-field
          class="wide"
          label="After them"
          i18n-label
          [rows]="3"
          [formControl]="form.controls.closing"
          [most]="4000"
        />
        <h3 i18n>Texts to insert</h3>
        @for (block of blocks(); track $index) {
          <div class="block">
            <kettle-text-field
              [ariaLabel]="texts.name($index + 1)"
              [value]="block.name"
              (valueChange)="change($index, { name: $event })"
              [most]="60"
            />
            <kettle-text-field
              [ariaLabel]="texts.text($index + 1)"
              [rows]="2"
              [value]="block.text"
              (valueChange)="change($index, { text: $event })"
              [most]="4000"
            />
            <button
              matIconButton
              type="button"
              (click)="remove($index)"
              [attr.aria-label]="texts.remove(block.name)"
            >
              <mat-icon svgIcon="close" />
            </button>
          </div>
        }
        <button i18n matButton type="button" (click)="add()">Add a text</button>
      </kettle-page-form>
    </section>
  `,
  styles: `
    .wide {
      inline-size: 100%;
    }
    .block {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 2fr) auto;
      gap: var(--space-2);
      inline-size: 100%;
      align-items: start;
    }
  `,
  styleUrl: './settings-part.scss',
})
export class SellingSettingsPart {
  protected readonly texts = {
    name: (at: number) => $localize`Text ${at}:at:: what it is called`,
    text: (at: number) => $localize`Text ${at}:at:`,
    remove: (name: string) => $localize`Remove the text ${name}:name:`,
  };

  private readonly api = inject(Api);
  protected readonly blocks = signal<readonly Block[]>([]);
  protected readonly form = new RecordForm({
    street: field(''),
    postcode: field(''),
    city: field(''),
    vatId: field(''),
    email: field(''),
    payment: field(''),
    taxPercent: required<number>(null),
    validDays: required<number>(null),
    remindDays: required<number>(null),
    paymentDays: required<number>(null),
    intro: field(''),
    closing: field(''),
  });
  protected readonly settings = keptSettings(this.form, {
    read: () => this.api.call('sellingSettings'),
    save: (body: SellingSettings, changeId) => this.api.call('changeSellingSettings', { body }, changeId),
    body: (stored) => ({ ...stored, ...this.form.getRawValue(), blocks: [...this.blocks()] }),
    fill: (stored) => {
      this.form.patchValue(stored);
      this.blocks.set(stored.blocks);
    },
    saved: $localize`Saved: the next quote begins with it.`,
  });

  protected readonly nameOf = (path: string): string | null =>
    path.startsWith('blocks') ? $localize`the texts to insert` : null;

  protected add(): void {
    this.blocks.update((all) => [...all, { name: '', text: '' }]);
  }

  protected change(at: number, part: Partial<Block>): void {
    this.blocks.update((all) => all.map((each, index) => (index === at ? { ...each, ...part } : each)));
  }

  protected remove(at: number): void {
    this.blocks.update((all) => all.filter((_, index) => index !== at));
  }
}
