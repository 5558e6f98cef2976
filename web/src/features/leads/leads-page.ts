import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { Router, RouterLink } from '@angular/router';
import type { CallOf, LeadRow, LeadStatus } from '@kettle/contract';
import { leadStatusLabel } from '@kettle/contract/labels';
import { minutesBetween } from '@kettle/core/time';
import { debounceTime, distinctUntilChanged } from 'rxjs';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { DayPipe } from '../../kit/say.pipes';
import { Empty, Failed, Waiting } from '../../kit/states';
import { Tether } from '../../kit/tether';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { v7 } from 'uuid';
import { choiceParts } from '../../kit/choice';
import { Pick } from '../../kit/pick';
import { SelectedRecord } from '../../services/selected-record';
import { DealTabs } from '../deals/index';
import { ViewsMenu } from '../views/index';
import type { LeadAsked } from './lead-dialog';

const settleMillis = 160;
const rowsAtOnce = 200;
const statuses = Object.keys(leadStatusLabel) as LeadStatus[];

/** Leads, the untried first; each with what they want, how long they wait, and what is next. */
@Component({
  selector: 'kettle-leads-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    Pick,
    choiceParts,
    MatButtonModule,
    RouterLink,
    DealTabs,
    ViewsMenu,
    Tether,
    DayPipe,
    Empty,
    Failed,
    Waiting,
  ],
  templateUrl: './leads-page.html',
  styleUrl: './leads-page.scss',
})
export class LeadsPage {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly router = inject(Router);
  protected readonly user = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);

  /** Filters from the address. */
  readonly owner = input<'mine' | 'unowned' | 'all'>();
  readonly status = input<string>();
  readonly source = input<string>();
  readonly campaign = input<string>();
  readonly warmth = input<string>();
  readonly archived = input<string>();
  readonly q = input<string>();

  protected readonly statuses = statuses;
  protected readonly labels = leadStatusLabel;
  protected readonly typed = linkedSignal(() => this.q() ?? '');
  /** How many rows are asked for; another view begins anew. */
  private readonly wanted = linkedSignal({ source: () => this.viewQuery(), computation: () => rowsAtOnce });
  protected readonly query = computed(
    () =>
      ({
        owner: this.owner() ?? 'mine',
        status: this.status(),
        source: this.source(),
        campaign: this.campaign(),
        warmth: this.warmth(),
        archived: this.archived(),
        q: this.q(),
        limit: this.wanted(),
        // The address carries texts; the server is who judges them.
      }) as unknown as NonNullable<CallOf<'listLeads'>['query']>,
  );
  protected readonly list = reading((query: NonNullable<CallOf<'listLeads'>['query']>) =>
    this.api.call('listLeads', { query }),
  );
  protected readonly groups = computed(() =>
    statuses
      .map((status) => ({
        status,
        rows: (this.list.value()?.rows ?? []).filter((row) => row.status === status),
      }))
      .filter(({ rows }) => rows.length > 0),
  );
  protected readonly ordered = computed(() => this.groups().flatMap(({ rows }) => rows));
  protected readonly hasFilter = computed(() =>
    [this.status(), this.source(), this.campaign(), this.warmth(), this.archived(), this.q()].some(Boolean),
  );
  protected readonly viewQuery = computed(() => {
    const parts = {
      owner: this.owner(),
      status: this.status(),
      source: this.source(),
      campaign: this.campaign(),
      warmth: this.warmth(),
      archived: this.archived(),
      q: this.q(),
    };
    const known = Object.entries(parts).filter((part): part is [string, string] => Boolean(part[1]));
    return new URLSearchParams(known).toString();
  });

  constructor() {
    effect(() => {
      const query = this.query();
      untracked(() => this.list.read(query));
    });
    toObservable(this.typed)
      .pipe(debounceTime(settleMillis), distinctUntilChanged(), takeUntilDestroyed())
      .subscribe((words) => {
        if (words !== (this.q() ?? '')) this.selected.setQuery({ q: words || null });
      });
    inject(ChangeStream)
      .of('lead', 'journal', 'task', 'contact')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.list.again());
    inject(Keys).bind(
      { keys: 'ArrowDown', words: 'Next lead', act: () => this.step(1) },
      { keys: 'ArrowUp', words: 'Lead before', act: () => this.step(-1) },
      { keys: 'a', words: 'New lead', act: () => void this.make({}) },
      {
        keys: 'q',
        words: 'Qualify the lead',
        act: () => this.qualify(),
      },
      {
        keys: 'x',
        words: 'Set the lead aside',
        act: () => this.onCurrent((lead) => void this.setAside(lead)),
      },
      {
        keys: 'k',
        words: 'Take the lead from the pool',
        act: () => this.onCurrent((lead) => this.claim(lead)),
      },
      {
        keys: 't',
        words: 'Next step of the lead',
        act: () => this.onCurrent((lead) => void this.plan(lead)),
      },
    );
  }

  protected showMore(): void {
    this.wanted.update((count) => count + rowsAtOnce);
  }

  protected countOf(status: LeadStatus) {
    return this.list.value()?.counts.find((count) => count.status === status) ?? { count: 0, due: 0 };
  }

  /** How long an untried one has waited: what matters most of it. */
  protected waits(lead: LeadRow): string {
    const minutes = Math.max(0, minutesBetween(lead.createdAt, this.user.now()));
    if (minutes < 60) return `${minutes} min`;
    return minutes < 60 * 48 ? `${Math.round(minutes / 60)} h` : `${Math.round(minutes / 60 / 24)} days`;
  }

  protected showAll(): void {
    this.selected.setQuery({
      owner: 'all',
      status: null,
      source: null,
      campaign: null,
      warmth: null,
      archived: null,
      q: null,
    });
  }

  protected showView(query: string): void {
    void this.router.navigate([], {
      queryParams: Object.fromEntries(new URLSearchParams(query)),
      replaceUrl: true,
    });
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
      next: () => this.undo.offer(`${lead.contactName} is yours now.`, changeId, () => this.list.again()),
      error: (error: unknown) => {
        this.notices.problem(error);
        this.list.again();
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
        if (aside) this.undo.offer(`${lead.contactName} is set aside.`, changeId, () => this.list.again());
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
    const focused = document.activeElement?.closest('[data-lead]')?.getAttribute('data-lead');
    return focused ?? (open?.kind === 'lead' ? open.id : null);
  }

  private qualify(): void {
    const id = this.currentId();
    if (id === null) this.askToChoose();
    else void this.router.navigate(['/deals/leads', id, 'qualify']);
  }

  private onCurrent(act: (lead: LeadRow) => void): void {
    const id = this.currentId();
    const lead = this.ordered().find((row) => row.id === id);
    if (!lead) return this.askToChoose();
    if (this.user.mayChange(lead.ownerId)) act(lead);
    else
      this.notices.say(`${lead.subject} belongs to ${lead.ownerName ?? 'a colleague'}, who can change it.`);
  }

  private askToChoose(): void {
    this.notices.say('Choose a lead first: with the arrow keys, or open it.');
  }

  private step(by: number): void {
    const rows = this.ordered();
    const at = rows.findIndex((row) => row.id === this.selected.record()?.id);
    const next = rows[Math.max(0, Math.min(rows.length - 1, at + by))];
    if (next) this.selected.open({ kind: 'lead', id: next.id });
  }
}
