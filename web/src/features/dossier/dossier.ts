import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { Router, RouterLink } from '@angular/router';
import type { Channel, Contact, Deal, RunSummary } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { forkJoin, map, type Observable, of, switchMap } from 'rxjs';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { DayPipe, MoneyPipe } from '../../design/say.pipes';
import { Failed, Waiting } from '../../design/states';
import { Tether } from '../../design/tether';
import { ChangeStream } from '../../shell/change-stream';
import { Here } from '../../shell/here';
import { Notices } from '../../shell/notices';
import { type OpenedRecord } from '../../shell/opened';
import { DealRows } from '../deals/deal-rows';
import { JournalLines } from './journal-lines';
import { NoteBox } from './note-box';
import { TaskLines } from './task-lines';

type Tab = 'journal' | 'deals' | 'agreements' | 'runs' | 'facts';

/** Everything about one contact or deal: head with tether, acts, next steps, journal, deals, agreements, runs, facts. */
@Component({
  selector: 'kettle-dossier',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    MatIcon,
    RouterLink,
    Tether,
    JournalLines,
    NoteBox,
    TaskLines,
    DealRows,
    Failed,
    Waiting,
    DayPipe,
    MoneyPipe,
  ],
  templateUrl: './dossier.html',
  styleUrl: './dossier.scss',
})
export class Dossier {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  protected readonly here = inject(Here);
  readonly record = input.required<OpenedRecord>();

  protected readonly labels = channelLabel;
  protected readonly tab = signal<Tab>('journal');
  protected readonly loaded = reading((record: OpenedRecord) => this.readAll(record));
  protected readonly contact = computed((): Contact | null => this.loaded.value()?.contact ?? null);
  protected readonly deal = computed((): Deal | null => this.loaded.value()?.deal ?? null);
  protected readonly standingName = computed(() => {
    const { contact, standings } = this.loaded.value() ?? {};
    return standings?.find((each) => each.standing.id === contact?.standingId)?.standing.name ?? '';
  });
  protected readonly tabs = computed((): { name: Tab; label: string }[] => {
    const all = this.loaded.value();
    if (!all) return [];
    const counted = (label: string, count: number) => (count > 0 ? `${label} ${count}` : label);
    return [
      { name: 'journal', label: 'Journal' },
      { name: 'deals', label: counted('Deals', all.deals.length) },
      { name: 'agreements', label: counted('Agreements', all.agreements.length) },
      { name: 'runs', label: counted('Cadences', all.runs.length) },
      { name: 'facts', label: 'Facts' },
    ];
  });

  constructor() {
    effect(() => {
      const record = this.record();
      untracked(() => this.loaded.read(record));
    });
    inject(ChangeStream)
      .of('contact', 'journal', 'task', 'deal', 'agreement', 'run')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.loaded.again());
  }

  private readAll(record: OpenedRecord) {
    const deal$: Observable<Deal | null> =
      record.kind === 'deal' ? this.api.call('getDeal', { params: { id: record.id } }) : of(null);
    return deal$.pipe(
      switchMap((deal) => {
        const contactId = record.kind === 'contact' ? record.id : deal?.contactId;
        const about = record.kind === 'deal' ? { dealId: record.id } : { contactId: record.id };
        const contact$: Observable<Contact | null> = contactId
          ? this.api.call('getContact', { params: { id: contactId } })
          : of(null);
        return contact$.pipe(
          switchMap((contact) => {
            const companyId = contact?.companyId;
            return forkJoin({
              deal: of(deal),
              contact: of(contact),
              standings: this.api.call('listStandings').pipe(map(({ standings }) => standings)),
              journal: this.api.call('listJournal', { query: about }),
              tasks: this.api.call('listTasks', { query: about }).pipe(map(({ tasks }) => tasks)),
              runs: contactId
                ? this.api.call('listRuns', { query: { contactId } }).pipe(map(({ runs }) => runs))
                : of([]),
              deals: companyId
                ? this.api.call('getCompany', { params: { id: companyId } }).pipe(map(({ deals }) => deals))
                : of(deal ? [deal] : []),
              agreements: companyId
                ? this.api
                    .call('listAgreements', { query: { owner: 'all', companyId } })
                    .pipe(map(({ rows }) => rows))
                : of([]),
            });
          }),
        );
      }),
    );
  }

  protected log(channel: Channel): void {
    const contactId = this.contact()?.id;
    if (contactId)
      void this.router.navigate(['/walk'], {
        queryParams: { contact: contactId, deal: this.deal()?.id, by: channel },
      });
  }

  protected isForbidden(channel: Channel): boolean {
    return this.contact()?.doNotContact.some((mark) => mark.channel === channel) ?? false;
  }

  protected moreJournal(): void {
    const all = this.loaded.value();
    if (!all?.journal.before) return;
    const record = this.record();
    const about = record.kind === 'deal' ? { dealId: record.id } : { contactId: record.id };
    this.api.call('listJournal', { query: { ...about, before: all.journal.before } }).subscribe({
      next: (page) =>
        this.loaded.put({
          ...all,
          journal: { entries: [...all.journal.entries, ...page.entries], before: page.before },
        }),
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected changeRun(run: RunSummary, change: 'pause' | 'resume' | 'stop'): void {
    this.api.call('changeRun', { params: { id: run.id }, body: { version: run.version, change } }).subscribe({
      next: () => this.loaded.again(),
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected async editContact(): Promise<void> {
    const { ContactDialog } = await import('../people/contact-dialog');
    this.dialog.open(ContactDialog, { data: this.contact(), width: '560px' });
  }

  protected async planTask(): Promise<void> {
    const { TaskDialog } = await import('./task-dialog');
    this.dialog.open(TaskDialog, {
      data: {
        contactId: this.contact()?.id ?? null,
        dealId: this.deal()?.id ?? null,
        name: this.contact()?.name,
      },
      width: '460px',
    });
  }

  protected async makeDeal(): Promise<void> {
    const { DealDialog } = await import('../deals/deal-dialog');
    this.dialog.open(DealDialog, { data: { contact: this.contact() }, width: '560px' });
  }

  protected async changeDeal(): Promise<void> {
    const { DealDialog } = await import('../deals/deal-dialog');
    this.dialog.open(DealDialog, { data: { deal: this.deal() }, width: '560px' });
  }

  protected async closeDeal(as: 'won' | 'lost'): Promise<void> {
    const { CloseDealDialog } = await import('../deals/close-deal-dialog');
    this.dialog.open(CloseDealDialog, { data: { deal: this.deal(), as }, width: '420px' });
  }

  protected async makeAgreement(): Promise<void> {
    const { AgreementDialog } = await import('../renewals/agreement-dialog');
    this.dialog.open(AgreementDialog, {
      data: { contact: this.contact(), deal: this.deal() },
      width: '560px',
    });
  }

  protected async startCadence(): Promise<void> {
    const { StartDialog } = await import('../cadences/start-dialog');
    this.dialog.open(StartDialog, {
      data: { contactIds: [this.contact()!.id] },
      width: '720px',
      maxWidth: '96vw',
    });
  }
}
