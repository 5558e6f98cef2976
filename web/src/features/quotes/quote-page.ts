import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { Router, RouterLink } from '@angular/router';
import type { Quote, QuoteId } from '@kettle/contract';
import { quoteStateLabel } from '@kettle/contract/quotes/labels';
import { sayToThePenny } from '@kettle/core/money';
import { firstValueFrom, type Observable } from 'rxjs';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { DayPipe, MomentPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { Sums } from '../../kit/sums';
import { tableParts } from '../../kit/table';
import { ChangeStream } from '../../services/change-stream';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { DealDialogs } from '../deals/index';
import { QuoteForm } from './quote-form';

/** One quote: a draft to write, or what went out, what was said to it, and what comes next. */
@Component({
  selector: 'kettle-quote-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DayPipe, Failed, MatButtonModule, MomentPipe, QuoteForm, RouterLink, Sums, tableParts, Waiting],
  templateUrl: './quote-page.html',
  styleUrl: './quote-page.scss',
})
export class QuotePage {
  protected readonly texts = {
    draft: $localize`Draft of a quote`,
    version: (number: string, n: number) => $localize`${number}:number:, version ${n}:n:`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly deals = inject(DealDialogs);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  private readonly undo = inject(Undo);
  /** Its id, in the address. */
  readonly id = input.required<QuoteId>();
  protected readonly read = reading((id: QuoteId) => this.api.call('getQuote', { params: { id } }));
  protected readonly it = this.read.value;
  protected readonly labels = quoteStateLabel;
  protected readonly name = computed(() => {
    const it = this.it();
    if (it === null || it.number === null) return this.texts.draft;
    return it.n > 1 ? this.texts.version(it.number, it.n) : it.number;
  });
  protected readonly lines = computed(() => this.it()?.lines ?? []);

  constructor() {
    effect(() => {
      const id = this.id();
      untracked(() => this.read.read(id));
    });
    inject(ChangeStream)
      .of('quote', 'deal')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.read.again());
  }

  protected money(minor: number): string {
    return sayToThePenny(minor, this.it()?.currency ?? 'GBP');
  }

  protected async send(quote: Quote): Promise<void> {
    const { SendDialog } = await import('./send-dialog');
    this.after(
      this.dialog.open<unknown, Quote, Quote>(SendDialog, { data: quote, width: '520px' }).afterClosed(),
    );
  }

  protected async decide(quote: Quote, as: 'accepted' | 'declined'): Promise<void> {
    const { DecideDialog } = await import('./decide-dialog');
    this.after(
      this.dialog
        .open<unknown, unknown, Quote>(DecideDialog, { data: { quote, as }, width: '480px' })
        .afterClosed(),
    );
  }

  private after(closed: Observable<Quote | undefined>): void {
    closed.subscribe((quote) => quote && this.read.put(quote));
  }

  protected revise({ id, version }: Quote): void {
    this.act(
      (changeId) => this.api.call('reviseQuote', { params: { id }, body: { version } }, changeId),
      $localize`It is a draft again: change it and send it as another version.`,
    );
  }

  protected withdraw({ id, version }: Quote): void {
    this.act(
      (changeId) => this.api.call('withdrawQuote', { params: { id }, body: { version } }, changeId),
      $localize`Withdrawn: its page says so.`,
    );
  }

  private act(call: (changeId: string) => Observable<Quote>, words: string): void {
    const changeId = v7();
    call(changeId).subscribe({
      next: (quote) => {
        this.read.put(quote);
        this.undo.offer(words, changeId, () => this.read.again());
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected remove({ id, dealId, title }: Quote): void {
    const changeId = v7();
    this.api.call('removeQuote', { params: { id } }, changeId).subscribe({
      next: () => {
        this.undo.offer($localize`The draft “${title}:title:” is deleted.`, changeId);
        void this.router.navigate(['/deals', dealId]);
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected async copy(link: string): Promise<void> {
    try {
      await navigator.clipboard.writeText(link);
      this.notices.say($localize`The link is copied.`);
    } catch {
      this.notices.say($localize`The browser did not let it be copied: mark the link and copy it.`);
    }
  }

  protected async invoice({ id: quoteId, dealId }: Quote): Promise<void> {
    const { openInvoiceDialog } = await import('../invoices/index');
    await openInvoiceDialog(this.dialog, { dealId, quoteId });
  }

  /** What an accepted quote asks for. */
  protected async win({ dealId }: Quote): Promise<void> {
    try {
      const deal = await firstValueFrom(this.api.call('getDeal', { params: { id: dealId } }));
      if (deal.status === 'open') await this.deals.close(deal, 'won', { amountMinor: deal.amountMinor });
      else this.notices.say($localize`The deal is closed already.`);
    } catch (error) {
      this.notices.problem(error);
    }
  }
}
