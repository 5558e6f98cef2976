import { ChangeDetectionStrategy, Component, effect, inject, signal, untracked } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { CloseReasons, Product } from '@kettle/contract';
import { readMoney } from '@kettle/core/money';
import { v7 } from 'uuid';
import { Api, ApiProblem } from '../../api/api';
import { reading } from '../../api/reading';
import { Conflicts, Submission } from '../../kit/conflicts';
import { choiceParts } from '../../kit/choice';
import { Undo } from '../../services/undo';

interface TypedProduct {
  product: Product | null;
  name: string;
  price: string;
  billing: 'once' | 'yearly';
  isRetired: boolean;
}

const kinds = [
  { key: 'won', words: 'What wins deals' },
  { key: 'lost', words: 'What loses them' },
  { key: 'parked', words: 'Why they are parked' },
  { key: 'aside', words: 'Why leads are set aside' },
] as const;

/** What is sold, and the reasons to choose from when a deal closes or a lead is set aside. */
@Component({
  selector: 'kettle-product-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [choiceParts, MatCheckboxModule, MatButtonModule, Conflicts, FormsModule],
  template: `
    <section>
      <h2>Products</h2>
      <p class="soft">They fill in product lines; a line keeps the name and price it was made with.</p>
      @for (row of rows(); track $index) {
        <form class="row" (ngSubmit)="save(row)">
          <mat-form-field>
            <mat-label>Name</mat-label>
            <input
              matInput
              name="name"
              [(ngModel)]="row.name"
              maxlength="160"
              required
              [kettleProblem]="problemOfRow(row)?.of('name')"
            />
            @if (problemOfRow(row)?.of('name'); as wrong) {
              <mat-error>{{ wrong }}</mat-error>
            }
          </mat-form-field>
          <mat-form-field>
            <mat-label>Price</mat-label>
            <input
              matInput
              name="price"
              inputmode="decimal"
              [(ngModel)]="row.price"
              required
              [kettleProblem]="problemOfRow(row)?.of('priceMinor')"
            />
            @if (problemOfRow(row)?.of('priceMinor'); as wrong) {
              <mat-error>{{ wrong }}</mat-error>
            }
          </mat-form-field>
          <mat-form-field>
            <mat-label>Paid</mat-label>
            <mat-select name="billing" [(ngModel)]="row.billing">
              <mat-option value="once">once</mat-option>
              <mat-option value="yearly">yearly</mat-option>
            </mat-select>
          </mat-form-field>
          <mat-checkbox name="retired" [(ngModel)]="row.isRetired" [disabled]="row.product === null">
            no longer sold
          </mat-checkbox>
          <button matButton="outlined">{{ row.product === null ? 'Add it' : 'Save' }}</button>
          @if (problemOfRow(row); as wrong) {
            <p class="wrong" role="alert">{{ wrong.message }}</p>
            <kettle-conflicts
              [problem]="saving.problem()"
              [sent]="saving.sent()"
              [say]="sayOf"
              [(choices)]="saving.choices"
            />
          }
        </form>
      }
    </section>
    <section>
      <h2>Reasons</h2>
      <p class="soft">One in a line. Others can be typed when it happens.</p>
      <form (ngSubmit)="saveReasons()">
        <div class="form-grid">
          @for (kind of kinds; track kind.key) {
            <mat-form-field>
              <mat-label>{{ kind.words }}</mat-label>
              <textarea
                matInput
                [name]="kind.key"
                rows="5"
                [ngModel]="reasons()[kind.key]"
                (ngModelChange)="say(kind.key, $event)"
              ></textarea>
            </mat-form-field>
          }
        </div>
        @if (reasonsSaving.problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.message }}</p>
        }
        <kettle-conflicts
          [problem]="reasonsSaving.problem()"
          [sent]="reasonsSaving.sent()"
          [label]="kindOf"
          [(choices)]="reasonsSaving.choices"
        />
        <button matButton="filled">Save the reasons</button>
      </form>
    </section>
  `,
  styleUrl: './settings-part.scss',
  styles: `
    .row {
      grid-template-columns: 1fr 110px 100px auto auto;
      inline-size: 100%;
    }
    section + section {
      padding-block-start: var(--space-5);
    }
  `,
})
export class ProductSettings {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  protected readonly kinds = kinds;
  private readonly products = reading((_: null) => this.api.call('listProducts'));
  private version = 1;
  private readonly stored = reading((_: null) => this.api.call('closeReasons'));
  protected readonly rows = signal<TypedProduct[]>([]);
  protected readonly reasons = signal({ won: '', lost: '', parked: '', aside: '' });
  /** Of the product that was saved last. */
  protected readonly saving = new Submission();
  private readonly savedRow = signal<TypedProduct | null>(null);
  protected readonly reasonsSaving = new Submission();
  protected readonly kindOf = (path: string) => kinds.find(({ key }) => key === path)?.words ?? null;
  protected readonly sayOf = (path: string, value: unknown) =>
    path === 'priceMinor' ? String((value as number) / 100) : null;

  constructor() {
    this.products.read(null);
    this.stored.read(null);
    effect(() => {
      const known = this.products.value();
      // Not before they are read: what is typed meanwhile would be written over.
      if (known !== null) untracked(() => this.rows.set([...known.products.map(typed), newRow()]));
    });
    effect(() => {
      const read = this.stored.value();
      untracked(() => {
        if (read === null) return;
        this.version = read.version;
        const text = (key: (typeof kinds)[number]['key']) => read[key].join('\n');
        this.reasons.set({
          won: text('won'),
          lost: text('lost'),
          parked: text('parked'),
          aside: text('aside'),
        });
      });
    });
  }

  /** What a product was refused for, at its own row. */
  protected problemOfRow(row: TypedProduct): ApiProblem | null {
    return this.savedRow() === row ? this.saving.problem() : null;
  }

  protected save(row: TypedProduct): void {
    const { product, name, price, billing, isRetired } = row;
    const priceMinor = readMoney(price);
    if (this.savedRow() !== row) this.saving.clear();
    this.savedRow.set(row);
    if (priceMinor === null) {
      const wrong = [{ path: 'priceMinor', message: 'must be an amount such as 385' }];
      return this.saving.refuse(new ApiProblem('invalid-request', 'Say what it costs.', wrong));
    }
    const fields = { name, priceMinor, billing };
    const changeId = v7();
    const asked = product
      ? this.api.call(
          'changeProduct',
          {
            params: { id: product.id },
            body: { ...this.saving.bodyOf({ ...fields, isRetired }), version: product.version },
          },
          changeId,
        )
      : this.api.call('createProduct', { body: fields }, changeId);
    asked.subscribe({
      next: (saved) => {
        this.saving.clear();
        // The others stay as they were typed; one that was new leaves room for another.
        this.rows.update((rows) => [
          ...rows.map((each) => (each === row ? typed(saved) : each)),
          ...(product ? [] : [newRow()]),
        ]);
        this.undo.offer(`${saved.name} is saved.`, changeId, () => this.products.again());
      },
      error: this.saving.refuse,
    });
  }

  protected say(key: (typeof kinds)[number]['key'], text: string): void {
    this.reasons.update((reasons) => ({ ...reasons, [key]: text }));
  }

  protected saveReasons(): void {
    const lines = (text: string) =>
      text
        .split('\n')
        .map((line) => line.trim())
        .filter(Boolean);
    const { won, lost, parked, aside } = this.reasons();
    const body: CloseReasons = {
      version: this.version,
      won: lines(won),
      lost: lines(lost),
      parked: lines(parked),
      aside: lines(aside),
    };
    const changeId = v7();
    this.api.call('changeCloseReasons', { body: this.reasonsSaving.bodyOf(body) }, changeId).subscribe({
      next: (saved) => {
        this.reasonsSaving.clear();
        this.stored.put(saved);
        this.undo.offer('The reasons are saved.', changeId, () => this.stored.again());
      },
      error: this.reasonsSaving.refuse,
    });
  }
}

const newRow = (): TypedProduct => ({
  product: null,
  name: '',
  price: '',
  billing: 'once',
  isRetired: false,
});

const typed = (product: Product): TypedProduct => ({
  product,
  name: product.name,
  price: String(product.priceMinor / 100),
  billing: product.billing,
  isRetired: product.isRetired,
});
