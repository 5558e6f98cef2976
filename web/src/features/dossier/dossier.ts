import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  Injector,
  input,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { Router, RouterLink } from '@angular/router';
import { MatMenuModule } from '@angular/material/menu';
import type {
  AgreementRow,
  Channel,
  Company,
  Contact,
  Deal,
  Lead,
  RunSummary,
  UserId,
} from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { channelKindOf, type ChannelKind, channelsThat } from '@kettle/contract/base/channels';
import { sayDate } from '@kettle/core/time';
import { Api } from '../../api/api';
import { KeyHint } from '../../kit/key-hint';
import { CountPipe, DayPipe, MoneyPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { Tether } from '../../kit/tether';
import { WhyNot } from '../../kit/why-not';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { v7 } from 'uuid';
import { SelectedRecord, type RecordRef, type SubjectRecord } from '../../services/selected-record';
import { type Closing, DealDialogs, DealRows } from '../deals/index';
import { openWrite } from '../mail/index';
import { AnswerLine, PeopleWords } from '../fields/index';
import { CompanyFacts } from './company-facts';
import { ContactFacts } from './contact-facts';
import { DossierReading, dossierTopics } from './dossier-reading';
import { type MenuRecord, RecordMenu } from './record-menu';
import { LeadFacts, LeadLines } from '../leads/index';
import { DealHead } from './deal-head';
import { DealInvoices } from '../invoices/index';
import { DealQuotes } from '../quotes/index';
import { DealFacts } from './deal-facts';
import { FileList } from './file-list';
import { Journal } from './journal';
import { Talk } from './talk';
import { TaskLines } from './task-lines';
import { WordPipe } from '../../kit/value-words';

type Tab = 'journal' | 'talk' | 'people' | 'deals' | 'agreements' | 'runs' | 'files' | 'facts';

const isWritten = (channel: Channel): channel is 'email' | 'text' =>
  channelKindOf(channel).isWritten === true;

/** Where the records of a kind are listed. */
const listOf = {
  contact: '/people',
  company: '/people/companies',
  deal: '/deals',
  lead: '/deals/leads',
} as const;

/** Everything about one contact, company or deal: head with tether, acts, next steps, journal, deals, agreements, runs, facts. */
@Component({
  selector: 'kettle-dossier',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    WordPipe,
    CountPipe,
    WhyNot,
    KeyHint,
    AnswerLine,
    DealHead,
    MatButtonModule,
    MatIcon,
    RouterLink,
    Tether,
    MatMenuModule,
    RecordMenu,
    Journal,
    FileList,
    DealFacts,
    DealInvoices,
    DealQuotes,
    LeadFacts,
    LeadLines,
    ContactFacts,
    CompanyFacts,
    Talk,
    TaskLines,
    DealRows,
    Failed,
    Waiting,
    DayPipe,
    MoneyPipe,
  ],
  templateUrl: './dossier.html',
  styleUrl: './dossier.scss',
  providers: [DossierReading],
})
export class Dossier {
  protected readonly texts = {
    days: $localize`day|days`,
    nobodyS: $localize`nobody’s`,
    people: $localize`person|people`,
    openDeals: $localize`open deal|open deals`,
    aColleague: $localize`a colleague`,
    theyAskedNotTo: (channel: string | number) =>
      $localize`They asked not to be reached by ${channel}:channel:.`,
    triesSinceTheLast: (tries: string | number) =>
      $localize`${tries}:tries: tries since the last conversation`,
    moreActsFor: (name: string | number) => $localize`More acts for ${name}:name:`,
    months: $localize`month|months`,
  };

  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly dialog = inject(MatDialog);
  private readonly dealDialogs = inject(DealDialogs);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly selected = inject(SelectedRecord);
  protected readonly user = inject(CurrentUser);
  readonly record = input.required<RecordRef>();
  /** What is open first: a notice leads to the talk. */
  readonly opens = input<'talk'>();

  protected readonly words = inject(PeopleWords);
  protected readonly labels = channelLabel;
  /** Ways to reach somebody that are offered. */
  protected readonly acts = channelsThat(({ isOffered }) => isOffered).map((channel) => ({
    channel,
    verb: channelKindOf(channel).verb,
    /** A meeting is planned or was held: which of the two is asked. */
    isMet: (channelKindOf(channel) as ChannelKind).isMet === true,
  }));
  protected readonly keyOf: Partial<Readonly<Record<Channel, string>>> = { call: 'c', email: 'm' };
  protected readonly tab = signal<Tab>('journal');
  protected readonly dossier = inject(DossierReading);
  protected readonly loaded = this.dossier.first;
  protected readonly contact = computed((): Contact | null => this.dossier.whole()?.contact ?? null);
  protected readonly deal = computed((): Deal | null => this.dossier.whole()?.deal ?? null);
  protected readonly lead = computed((): Lead | null => this.dossier.whole()?.lead ?? null);
  /** Whether the record itself may be changed; of a deal, by its team too. The server decides again. */
  protected readonly mayChange = computed(() => {
    const [deal, me] = [this.deal(), this.user.person()?.id];
    if (deal?.team.some(({ id }) => id === me)) return true;
    const owner = (this.deal() ?? this.lead() ?? this.company() ?? this.contact())?.ownerId ?? null;
    return this.user.mayChange(owner);
  });
  /** Whether anything may be logged with the person, planned or begun: that is for whoever may change them. */
  protected readonly mayReach = computed(() => {
    const person = this.contact();
    return person === null ? this.mayChange() : this.user.mayChange(person.ownerId);
  });
  /** Whose it is that is not one's own: the record, or the person in it. */
  protected readonly ownerName = computed(() => {
    const record = this.deal() ?? this.lead() ?? this.company() ?? this.contact();
    return (this.mayChange() ? this.contact() : record)?.ownerName;
  });
  /** What the journal and the files are about. */
  protected readonly subject = computed((): SubjectRecord => {
    const { kind, id } = this.record();
    return kind === 'lead' ? { kind: 'contact', id: this.contact()?.id ?? id } : { kind, id };
  });
  protected readonly company = computed((): Company | null => this.dossier.whole()?.company ?? null);
  protected readonly standingName = computed(() => this.words.standing(this.contact()?.standingId ?? ''));
  protected readonly tabs = computed((): { name: Tab; label: string }[] => {
    const all = this.dossier.whole();
    if (!all) return [];
    const { counts } = all;
    const counted = (label: string, count: number) => (count > 0 ? `${label} ${count}` : label);
    return [
      { name: 'journal', label: $localize`Journal` },
      { name: 'talk', label: $localize`Talk` },
      ...(all.company ? [{ name: 'people' as const, label: counted($localize`People`, counts.people) }] : []),
      { name: 'deals', label: counted($localize`Deals`, counts.deals) },
      { name: 'agreements', label: counted($localize`Agreements`, counts.agreements) },
      ...(all.company ? [] : [{ name: 'runs' as const, label: counted($localize`Cadences`, counts.runs) }]),
      { name: 'files', label: $localize`Files` },
      ...(all.deal || all.lead ? [] : [{ name: 'facts' as const, label: $localize`Facts` }]),
    ];
  });

  /** What it shows: a change of one of these, or of what is about one, is read again. */
  private readonly onScreen = computed(() => [
    this.record().id,
    ...[this.contact()?.id, this.contact()?.companyId, this.deal()?.id, this.lead()?.id],
  ]);
  private readonly journal = viewChild(Journal);
  private readonly injector = inject(Injector);

  constructor() {
    this.words.wake();
    inject(Keys).bind({
      keys: 'n',
      words: $localize`Write a note about whoever is open`,
      act: () => this.beginNote(),
    });
    effect(() => {
      const record = this.record();
      untracked(() => {
        const known = this.dossier.whole();
        // Another kind of record has other tabs.
        if (known && (record.kind === 'company') !== (known.company !== null)) this.tab.set('journal');
        this.dossier.open(record);
      });
    });
    effect(() => {
      const opens = this.opens();
      if (opens !== undefined) untracked(() => this.tab.set(opens));
    });
    inject(ChangeStream)
      .about(() => this.onScreen(), ...dossierTopics)
      .pipe(takeUntilDestroyed())
      .subscribe((topics) => this.dossier.follow(topics));
    effect(() => {
      const tab = this.tab();
      if (this.dossier.whole() === null) return;
      const { dossier } = this;
      const read = {
        people: dossier.people,
        deals: dossier.deals,
        agreements: dossier.agreements,
        runs: dossier.runs,
      };
      if (tab in read) untracked(() => read[tab as keyof typeof read].want());
    });
  }

  /** A mail or text is written at once; everything else happens outside and is logged. */
  protected begin(channel: Channel): void {
    if (isWritten(channel)) this.write(channel);
    else this.log(channel);
  }

  private write(channel: 'email' | 'text'): void {
    const { id, name } = this.contact()!;
    openWrite(this.dialog, { channel, contactId: id, name, dealId: this.deal()?.id }).subscribe();
  }

  protected log(channel: Channel): void {
    const contactId = this.contact()?.id;
    if (contactId)
      void this.router.navigate(['/walk'], {
        queryParams: { contact: contactId, deal: this.deal()?.id, by: channel },
      });
  }

  /** The note is written in the journal, whichever tab is open. */
  private beginNote(): void {
    this.tab.set('journal');
    afterNextRender(() => this.journal()?.beginNote(), { injector: this.injector });
  }

  protected isForbidden(channel: Channel): boolean {
    return this.contact()?.doNotContact.some((mark) => mark.channel === channel) ?? false;
  }

  /** Tries since the last conversation on a channel, shown beside the button that uses it. */
  protected triesBy(channel: Channel): number {
    return this.contact()?.attempts.find((each) => each.channel === channel)?.tries ?? 0;
  }

  protected hasAnswered(channel: Channel): boolean {
    return (this.contact()?.answers.find((each) => each.channel === channel)?.answered ?? 0) > 0;
  }

  protected claim(): void {
    const contact = this.contact();
    if (contact)
      this.api.call('claimContact', { params: { id: contact.id } }).subscribe({
        next: () => this.dossier.again(),
        error: (error: unknown) => {
          this.notices.problem(error);
          this.dossier.again();
        },
      });
  }

  /** Gives the contact to a colleague, or back to the pool. */
  protected handOver(ownerId: UserId | null): void {
    const contact = this.contact();
    if (!contact) return;
    const changeId = v7();
    this.api
      .call('handOver', { params: { id: contact.id }, body: { version: contact.version, ownerId } }, changeId)
      .subscribe({
        next: (row) => {
          this.dossier.again();
          const words =
            ownerId === null
              ? $localize`${row.name} is in the pool.`
              : $localize`${row.name}:name: is with ${row.ownerName}:ownerName: now.`;
          this.undo.offer(words, changeId, () => this.dossier.again());
        },
        error: (error: unknown) => this.notices.problem(error),
      });
  }

  protected mayHandOver(): boolean {
    const contact = this.contact();
    return contact !== null && this.user.mayChange(contact.ownerId);
  }

  protected async editCompany(): Promise<void> {
    const { CompanyDialog } = await import('../companies/company-dialog');
    this.dialog.open(CompanyDialog, { data: this.company(), width: '640px' });
  }

  protected changeRun(run: RunSummary, change: 'pause' | 'resume' | 'stop'): void {
    this.api.call('changeRun', { params: { id: run.id }, body: { version: run.version, change } }).subscribe({
      next: () => this.dossier.again(),
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected async editContact(): Promise<void> {
    const { ContactDialog } = await import('../contacts/contact-dialog');
    this.dialog.open(ContactDialog, { data: this.contact(), width: '640px' });
  }

  /** A meeting or a visit: with its day, time and place. */
  protected async planAppointment(channel: Channel): Promise<void> {
    const { AppointmentActs } = await import('../calendar/index');
    await this.injector.get(AppointmentActs).plan({
      contactId: this.contact()?.id ?? null,
      dealId: this.deal()?.id ?? null,
      dealName: this.deal()?.name ?? '',
      channel: channel === 'visit' ? 'visit' : 'meeting',
    });
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

  /** What the menu beside the title archives or deletes. */
  protected readonly menuRecord = computed((): MenuRecord | null => {
    const { kind, id } = this.record();
    const shown = this.shown();
    return shown === null || !this.mayChange()
      ? null
      : { kind, id, version: shown.version, isArchived: this.archivedAt() !== null };
  });
  protected readonly archivedAt = computed(() => {
    return this.shown()?.archivedAt ?? null;
  });
  /** A next step is missing: not where it is over, or put away. */
  protected readonly needsStep = computed(() => {
    const deal = this.deal();
    return this.archivedAt() === null && (deal === null || deal.status === 'open');
  });

  protected menuOf({ id, version, archivedAt }: AgreementRow): MenuRecord {
    return { kind: 'agreement', id, version, isArchived: archivedAt !== null };
  }

  private shown(): Deal | Lead | Company | Contact | null {
    return this.deal() ?? this.lead() ?? this.company() ?? this.contact();
  }

  /** On a page of its own there is nothing left to show. */
  protected leave(): void {
    if (this.selected.record() === null) void this.router.navigateByUrl(listOf[this.record().kind]);
    else this.selected.open(null);
  }

  protected comeBack(): void {
    this.selected.open(this.record());
  }

  /** "parked until Mon 1 Mar 2027: next budget year" */
  protected wordsOfClosing({ status, wakeOn, closeReason }: Deal): string {
    const until = wakeOn === null ? '' : $localize` until ${sayDate(wakeOn, this.user.today())}`;
    return `${status}${until}${closeReason === null ? '' : `: ${closeReason}`}`;
  }

  protected makeDeal(): void {
    void this.dealDialogs.make(this.contact());
  }

  protected changeDeal(): void {
    void this.dealDialogs.change(this.deal()!);
  }

  protected closeDeal(as: Closing): void {
    void this.dealDialogs.close(this.deal()!, as);
  }

  protected reopenDeal(): void {
    void this.dealDialogs.reopen(this.deal()!);
  }

  protected moveDeal(): void {
    void this.dealDialogs.move({ deal: this.deal()! });
  }

  protected async makeAgreement(): Promise<void> {
    const { AgreementDialog } = await import('../agreements/agreement-dialog');
    this.dialog.open(AgreementDialog, {
      data: { contact: this.contact(), deal: this.deal() },
      width: '560px',
    });
  }

  protected async makeLead(): Promise<void> {
    const { LeadDialog } = await import('../leads/lead-dialog');
    this.dialog.open(LeadDialog, { data: { contactId: this.contact()?.id }, width: '600px' });
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
