import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatMenuModule } from '@angular/material/menu';
import type { Quote, SellingSettings } from '@kettle/contract';
import { readNumber, writeNumber } from '@kettle/core/locale';
import { sayToThePenny } from '@kettle/core/money';
import { offeredTotals } from '@kettle/core/quotes';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { DayField } from '../../kit/day-field';
import { field, pageFormParts, RecordForm, required } from '../../kit/form';
import { Undo } from '../../services/undo';
import { DealWords, LineEditor, lineOf, type TypedLine, typedLineOf } from '../deals/index';

type TextField = 'intro' | 'closing';

/** A draft to write: its words, its lines, and what they come to as they are typed. */
@Component({
  selector: 'kettle-quote-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayField, LineEditor, MatButtonModule, MatMenuModule, pageFormParts],
  template: `
    <kettle-page-form act="Save the draft" i18n-act [form]="form" [named]="nameOf" (save)="save()">
      <div class="head">
        <kettle-text-field label="Title" i18n-label [formControl]="form.controls.title" [most]="120" />
        <kettle-day-field label="Valid until" i18n-label [formControl]="form.controls.validUntil" warns />
      </div>
      <kettle-text-field
        label="Before the lines"
        i18n-label
        [rows]="3"
        [formControl]="form.controls.intro"
        [most]="4000"
      />
      <kettle-line-editor
        class="lines"
        isOffered
        [usualTax]="usualTax()"
        [(lines)]="lines"
        [currency]="quote().currency"
        [problem]="form.submission.problem()"
      />
      <dl>
        <div>
          <dt i18n>net</dt>
          <dd>{{ money(totals().netMinor) }}</dd>
        </div>
        @for (tax of totals().taxes; track tax.percent) {
          <div>
            <dt i18n>tax {{ tax.percent }} %</dt>
            <dd>{{ money(tax.taxMinor) }}</dd>
          </div>
        }
        <div>
          <dt i18n>total</dt>
          <dd>
            <b>{{ money(totals().totalMinor) }}</b>
          </dd>
        </div>
      </dl>
      <kettle-text-field
        label="After them"
        i18n-label
        [rows]="3"
        [formControl]="form.controls.closing"
        [most]="4000"
      />
      <ng-container besideActs>
        @if (blocks().length > 0) {
          <button i18n matButton type="button" [matMenuTriggerFor]="menu">insert a text</button>
          <mat-menu #menu="matMenu">
            @for (each of blocks(); track each.name) {
              <button mat-menu-item type="button" (click)="insert(each.text)">{{ each.name }}</button>
            }
          </mat-menu>
        }
        <button i18n matButton="outlined" type="button" (click)="saveAndSend()">Save and send …</button>
      </ng-container>
    </kettle-page-form>
  `,
  styles: `
    :host {
      display: block;
      max-inline-size: 860px;
      margin-block-start: var(--space-4);
    }
    kettle-text-field,
    .lines {
      inline-size: 100%;
    }
    .head {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 200px;
      gap: var(--space-3);
      inline-size: 100%;
    }
    @media (max-width: 600px) {
      .head {
        grid-template-columns: minmax(0, 1fr);
      }
    }
    dl {
      display: grid;
      justify-self: end;
      gap: var(--space-1);
      margin: 0;
    }
    dl div {
      display: grid;
      grid-template-columns: 12ch 14ch;
      gap: var(--space-3);
    }
    dt {
      color: var(--text-soft);
    }
    dd {
      margin: 0;
      text-align: end;
      font-variant-numeric: tabular-nums;
    }
  `,
})
export class QuoteForm {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  readonly quote = input.required<Quote>();
  readonly saved = output<Quote>();
  readonly send = output<Quote>();

  protected readonly form = new RecordForm({
    title: required(''),
    validUntil: required(''),
    intro: field(''),
    closing: field(''),
  });
  protected readonly lines = signal<readonly TypedLine[]>([]);
  private readonly settings = reading((_: null) => this.api.call('sellingSettings'));
  protected readonly blocks = computed((): SellingSettings['blocks'] => this.settings.value()?.blocks ?? []);
  protected readonly usualTax = computed(() => {
    const percent = this.settings.value()?.taxPercent;
    return percent === undefined ? '' : writeNumber(percent);
  });
  private readonly typed = computed(() =>
    this.lines().map((line) => ({
      ...lineOf(line, this.quote().currency),
      taxPercent: readNumber(line.tax ?? '')?.value ?? Number.NaN,
      isOptional: line.isOptional === true,
    })),
  );
  /** Of what can be read so far. */
  protected readonly totals = computed(() =>
    offeredTotals(
      this.typed().map((line) => ({
        ...line,
        priceMinor: Math.max(0, line.priceMinor),
        discountPercent: Number.isFinite(line.discountPercent) ? line.discountPercent : 0,
        taxPercent: Number.isFinite(line.taxPercent) ? line.taxPercent : 0,
        isChosen: false,
      })),
    ),
  );
  /** The version that was filled in: what others change meanwhile is merged, not typed over. */
  private filled = 0;

  constructor() {
    inject(DealWords).wake();
    this.settings.read(null);
    effect(() => {
      const quote = this.quote();
      untracked(() => {
        if (this.filled === 0 || !this.isChanged()) this.fill(quote);
      });
    });
  }

  private fill(quote: Quote): void {
    const { title, validUntil, intro, closing, lines, currency, version } = quote;
    this.form.reset({ title, validUntil, intro, closing });
    this.lines.set(
      lines.map((line) => ({
        ...typedLineOf({ ...line, id: '', totalMinor: line.netMinor }, currency),
        tax: writeNumber(line.taxPercent),
        isOptional: line.isOptional,
      })),
    );
    this.first = JSON.stringify(this.lines());
    this.filled = version;
  }

  private first = '';
  private isChanged(): boolean {
    return this.form.dirty || JSON.stringify(this.lines()) !== this.first;
  }

  protected readonly nameOf = (path: string): string | null =>
    path === 'lines' ? $localize`the lines` : null;

  protected money(minor: number): string {
    return sayToThePenny(minor, this.quote().currency);
  }

  protected insert(text: string): void {
    const name: TextField = 'closing';
    const control = this.form.controls[name];
    control.setValue(control.value === '' ? text : `${control.value}\n\n${text}`);
    control.markAsDirty();
  }

  protected save(then: (quote: Quote) => void = () => undefined): void {
    const { id } = this.quote();
    const changeId = v7();
    const body = { ...this.form.getRawValue(), version: this.filled, lines: this.typed() };
    this.form.send(
      body,
      (sent) => this.api.call('changeQuote', { params: { id }, body: sent }, changeId),
      (quote) => {
        this.fill(quote);
        this.saved.emit(quote);
        this.undo.offer($localize`The draft is saved.`, changeId);
        then(quote);
      },
    );
  }

  protected saveAndSend(): void {
    if (this.isChanged()) this.save((quote) => this.send.emit(quote));
    else this.send.emit(this.quote());
  }
}
