import { ChangeDetectionStrategy, Component, effect, inject, signal, untracked } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { CloseReasons, Product } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { field, keptSettings, pageFormParts, RecordForm, required } from '../../kit/form';
import { sayMoney } from '@kettle/core/money';
import { CurrentUser } from '../../services/current-user';
import { Undo } from '../../services/undo';
import { spoken } from '../../kit/value-words';

const kinds = [
  { key: 'won', words: $localize`What wins deals` },
  { key: 'lost', words: $localize`What loses them` },
  { key: 'parked', words: $localize`Why they are parked` },
  { key: 'aside', words: $localize`Why leads are set aside` },
] as const;

/** What is sold, and the reasons to choose from when a deal closes or a lead is set aside. */
@Component({
  selector: 'kettle-product-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [pageFormParts, MatCheckboxModule],
  template: `
    <section>
      <h2 i18n>Products</h2>
      <p i18n class="soft">They fill in product lines; a line keeps the name and price it was made with.</p>
      @for (row of rows(); track row) {
        <kettle-page-form
          inline
          [name]="row.product?.name ?? texts.aNewProduct"
          [act]="row.product === null ? texts.addIt : texts.save"
          [form]="row.form"
          [say]="sayOf"
          (save)="save(row)"
        >
          <kettle-text-field
            class="grows"
            label="Name"
            i18n-label
            [formControl]="row.form.controls.name"
            [most]="160"
          />
          <kettle-number-field
            class="brief"
            kind="money"
            label="Price"
            i18n-label
            [formControl]="row.form.controls.priceMinor"
          />
          <kettle-choice-field
            class="brief"
            label="Paid"
            i18n-label
            [formControl]="row.form.controls.billing"
            [options]="billings"
          />
          @if (row.product !== null) {
            <mat-checkbox i18n [formControl]="row.form.controls.isRetired">no longer sold</mat-checkbox>
          }
        </kettle-page-form>
      }
    </section>
    <section>
      <h2 i18n>Reasons</h2>
      <p i18n class="soft">One in a line. Others can be typed when it happens.</p>
      <kettle-page-form
        act="Save the reasons"
        i18n-act
        [form]="reasons"
        [stored]="reasonsKept.stored"
        [named]="kindOf"
        (save)="reasonsKept.save()"
      >
        <div class="form-grid">
          @for (kind of kinds; track kind.key) {
            <kettle-text-field [label]="kind.words" [rows]="5" [formControl]="reasons.controls[kind.key]" />
          }
        </div>
        <mat-checkbox i18n [formControl]="reasons.controls.wonNeedsReason">
          a deal is won only with a reason
        </mat-checkbox>
      </kettle-page-form>
    </section>
  `,
  styleUrl: './settings-part.scss',
  styles: `
    .grows {
      flex: 1 1 200px;
    }
    .brief {
      inline-size: 110px;
    }
    section + section {
      padding-block-start: var(--space-5);
    }
  `,
})
export class ProductSettings {
  protected readonly texts = {
    aNewProduct: $localize`A new product`,
    addIt: $localize`Add it`,
    save: $localize`Save`,
  };

  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly user = inject(CurrentUser);
  protected readonly kinds = kinds;
  protected readonly billings = spoken<Product['billing']>(['once', 'yearly']);
  private readonly products = reading((_: null) => this.api.call('listProducts'));
  protected readonly rows = signal<readonly ProductRow[]>([]);
  protected readonly sayOf = (path: string, value: unknown) =>
    path === 'priceMinor' ? sayMoney(value as number, this.user.currency()) : null;
  protected readonly kindOf = (path: string) =>
    path === 'wonNeedsReason'
      ? $localize`a deal is won only with a reason`
      : (kinds.find(({ key }) => key === path)?.words ?? null);
  protected readonly reasons = new RecordForm({
    won: field(''),
    lost: field(''),
    parked: field(''),
    aside: field(''),
    wonNeedsReason: field(false),
  });
  protected readonly reasonsKept = keptSettings(this.reasons, {
    read: () => this.api.call('closeReasons'),
    save: (body: CloseReasons, changeId) => this.api.call('changeCloseReasons', { body }, changeId),
    fill: (stored) =>
      this.reasons.setValue({
        ...byKind((key) => stored[key].join('\n')),
        wonNeedsReason: stored.wonNeedsReason,
      }),
    body: ({ version }) => ({
      version,
      ...byKind((key) => linesOf(this.reasons.controls[key].value)),
      wonNeedsReason: this.reasons.controls.wonNeedsReason.value,
    }),
    saved: $localize`The reasons are saved.`,
  });

  constructor() {
    this.products.read(null);
    effect(() => {
      const known = this.products.value();
      // Not before they are read: what is typed meanwhile would be written over.
      if (known !== null) untracked(() => this.rows.set([...known.products, null].map(rowOf)));
    });
  }

  protected save(row: ProductRow): void {
    const { product, form } = row;
    const { isRetired, ...fields } = form.getRawValue();
    const changeId = v7();
    const done = (saved: Product) => {
      // The others stay as they were typed; one that was new leaves room for another.
      this.rows.update((rows) => [
        ...rows.map((each) => (each === row ? rowOf(saved) : each)),
        ...(product ? [] : [rowOf(null)]),
      ]);
      this.undo.offer($localize`${saved.name} is saved.`, changeId, () => this.products.again());
    };
    if (product === null)
      form.send(fields, (body) => this.api.call('createProduct', { body }, changeId), done);
    else
      form.send(
        { ...fields, isRetired, version: product.version },
        (body) => this.api.call('changeProduct', { params: { id: product.id }, body }, changeId),
        done,
      );
  }
}

const rowOf = (product: Product | null) => ({
  product,
  form: new RecordForm({
    name: required(product?.name ?? ''),
    priceMinor: required<number>(product?.priceMinor ?? null),
    billing: field<Product['billing']>(product?.billing ?? 'once'),
    isRetired: field(product?.isRetired ?? false),
  }),
});
type ProductRow = ReturnType<typeof rowOf>;

const byKind = <Value>(valueOf: (key: (typeof kinds)[number]['key']) => Value) => ({
  won: valueOf('won'),
  lost: valueOf('lost'),
  parked: valueOf('parked'),
  aside: valueOf('aside'),
});

const linesOf = (text: string): string[] =>
  text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean);
