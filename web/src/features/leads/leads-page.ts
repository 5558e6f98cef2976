import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { Router, RouterLink } from '@angular/router';
import type { LeadRow, LeadStatus } from '@kettle/contract';
import { leadStatusLabel } from '@kettle/contract/labels';
import { minutesBetween } from '@kettle/core/time';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { ChoiceField, sameWords } from '../../kit/choice-field';
import { KeyHint } from '../../kit/key-hint';
import { Pick } from '../../kit/pick';
import { DayPipe } from '../../kit/say.pipes';
import { Empty, Waiting } from '../../kit/states';
import { StepDay } from '../../kit/step-day';
import { Tether } from '../../kit/tether';
import { CurrentUser } from '../../services/current-user';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import { SelectedRecord } from '../../services/selected-record';
import { Undo } from '../../services/undo';
import { DealTabs } from '../deals/index';
import { PeopleWords } from '../fields/index';
import { gridParts, GridStore, GridView, provideGrid } from '../grid/index';
import type { LeadAsked } from './lead-dialog';
import { ArchivePicked } from './archive-picked';
import { DropOffPanel } from './drop-off-panel';
import { LeadsGrid } from './leads-grid';
import { WordPipe, spoken } from '../../kit/value-words';

/** Leads, the untried first; each with what they want, how long they wait, and what is next. */
@Component({
  selector: 'kettle-leads-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { class: 'whole' },
  imports: [
    ArchivePicked,
    DropOffPanel,
    WordPipe,
    ChoiceField,
    KeyHint,
    Pick,
    gridParts,
    MatButtonModule,
    RouterLink,
    DealTabs,
    StepDay,
    Tether,
    DayPipe,
    Empty,
    Waiting,
  ],
  providers: [provideGrid(LeadsGrid)],
  templateUrl: './leads-page.html',
  styleUrl: './leads-page.scss',
})
export class LeadsPage {
  protected readonly texts = {
    noLeadHere: $localize`No lead here`,
    noLeads: $localize`No leads`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly router = inject(Router);
  protected readonly spec = inject(LeadsGrid);
  protected readonly store = inject<GridStore<LeadRow>>(GridStore);
  protected readonly view = inject<GridView<LeadRow>>(GridView);
  protected readonly user = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);

  /** The view, kept in the address. */
  /** `drop-off` shows how far they came in place of the list. */
  readonly as = input<string>();
  protected readonly isDropOff = computed(() => this.as() === 'drop-off');
  readonly owner = input<'mine' | 'unowned' | 'all'>();
  readonly status = input<string>();
  readonly source = input<string>();
  readonly campaign = input<string>();
  readonly warmth = input<string>();
  readonly archived = input<'yes'>();
  readonly q = input<string>();
  readonly filter = input<string>();
  readonly sort = input<string>();
  readonly group = input<string>();
  readonly cols = input<string>();

  protected readonly owners = [
    ['mine', $localize`mine`],
    ['unowned', $localize`the pool`],
    ['all', $localize`everyone’s`],
  ] as const;
  protected readonly labels = leadStatusLabel;
  protected readonly statuses = Object.keys(leadStatusLabel) as LeadStatus[];
  protected readonly warmths = [
    { value: '', words: $localize`any warmth` },
    ...spoken(['hot', 'warm', 'cool']),
  ];
  protected readonly sources = computed(() => [
    { value: '', words: $localize`any source` },
    ...sameWords(this.spec.head()?.sources ?? []),
  ]);
  protected readonly campaigns = computed(() => [
    { value: '', words: $localize`any campaign` },
    ...sameWords(this.spec.head()?.campaigns ?? []),
  ]);

  constructor() {
    inject(PeopleWords).wake();
    this.view.follow(
      computed(() => ({
        owner: this.owner(),
        status: this.status(),
        source: this.source(),
        campaign: this.campaign(),
        warmth: this.warmth(),
        archived: this.archived(),
        q: this.q(),
        filter: this.filter(),
        sort: this.sort(),
        group: this.group(),
        cols: this.cols(),
      })),
    );
    inject(Keys).bind(
      { keys: 'a', words: $localize`New lead`, act: () => void this.make({}) },
      { keys: 'q', words: $localize`Qualify the lead`, act: () => this.qualify() },
      {
        keys: 'x',
        words: $localize`Set the lead aside`,
        act: () => this.onCurrent((lead) => void this.setAside(lead)),
      },
      {
        keys: 'k',
        words: $localize`Take the lead from the pool`,
        act: () => this.onCurrent((lead) => this.claim(lead)),
      },
      {
        keys: 't',
        words: $localize`Next step of the lead`,
        act: () => this.onCurrent((lead) => void this.plan(lead)),
      },
    );
  }

  protected countOf(status: LeadStatus) {
    return this.spec.head()?.counts.find((count) => count.status === status) ?? { count: 0, due: 0 };
  }

  /** How long an untried one has waited: what matters most of it. */
  protected waits(lead: LeadRow): string {
    const minutes = Math.max(0, minutesBetween(lead.createdAt, this.user.now()));
    if (minutes < 60) return $localize`${minutes} min`;
    return minutes < 60 * 48
      ? `${Math.round(minutes / 60)} h`
      : $localize`${Math.round(minutes / 60 / 24)} days`;
  }

  protected async make(asked: LeadAsked): Promise<void> {
    const { LeadDialog } = await import('./lead-dialog');
    this.dialog
      .open(LeadDialog, { data: asked, width: '600px' })
      .afterClosed()
      .subscribe((lead: LeadRow | undefined) => {
        if (lead) this.selected.open({ kind: 'lead', id: lead.id });
      });
  }

  protected claim(lead: LeadRow): void {
    const changeId = v7();
    this.api.call('claimLead', { params: { id: lead.id } }, changeId).subscribe({
      next: () =>
        this.undo.offer($localize`${lead.contactName} is yours now.`, changeId, () => this.store.again()),
      error: (error: unknown) => {
        this.notices.problem(error);
        this.store.again();
      },
    });
  }

  protected async setAside(lead: LeadRow): Promise<void> {
    const { AsideDialog } = await import('./aside-dialog');
    const changeId = v7();
    this.dialog
      .open(AsideDialog, { data: { lead, changeId }, width: '440px' })
      .afterClosed()
      .subscribe((aside: LeadRow | undefined) => {
        if (aside)
          this.undo.offer($localize`${lead.contactName} is set aside.`, changeId, () => this.store.again());
      });
  }

  protected async plan(lead: LeadRow): Promise<void> {
    const { TaskDialog } = await import('../dossier/task-dialog');
    const data = { contactId: lead.contactId, dealId: null, name: lead.contactName };
    this.dialog.open(TaskDialog, { data, width: '460px' });
  }

  /** The lead that has the focus, else the one that is open: it may be so new that the list has not got it yet. */
  private currentId(): string | null {
    const open = this.selected.record();
    const focused = document.activeElement?.closest('[data-row]')?.getAttribute('data-row');
    return focused ?? (open?.kind === 'lead' ? open.id : null);
  }

  private qualify(): void {
    const id = this.currentId();
    if (id === null) this.askToChoose();
    else void this.router.navigate(['/deals/leads', id, 'qualify']);
  }

  private onCurrent(act: (lead: LeadRow) => void): void {
    const id = this.currentId();
    const lead = this.store.find(id)?.row;
    if (!lead) return this.askToChoose();
    if (this.user.mayChange(lead.ownerId)) act(lead);
    else
      this.notices.say(
        $localize`${lead.subject}:subject: belongs to ${lead.ownerName ?? $localize`a colleague`}:ownerName:, who can change it.`,
      );
  }

  private askToChoose(): void {
    this.notices.say($localize`Choose a lead first: with the arrow keys, or open it.`);
  }
}
