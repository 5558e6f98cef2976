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
  viewChild,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { CallOf, JournalEntry, ReplyOf } from '@kettle/contract';
import { journalKindLabel } from '@kettle/contract/labels';
import { Api, problemOf } from '../../api/api';
import { CurrentUser } from '../../services/current-user';
import { reading } from '../../api/reading';
import { ChoiceField, labelled, named } from '../../kit/choice-field';
import { DayField } from '../../kit/day-field';
import { Failed } from '../../kit/states';
import { Notices } from '../../services/notices';
import type { SubjectRecord } from '../../services/selected-record';
import { PeopleWords } from '../fields/index';
import { JournalLines } from './journal-lines';
import { NoteBox } from './note-box';

type Query = NonNullable<CallOf<'listJournal'>['query']>;
const pageEntries = 30;
const entriesWhenExpanded = 200;

/** The journal of a contact, company or deal: write, filter by kind, person and period, expand all. */
@Component({
  selector: 'kettle-journal',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, DayField, MatButtonModule, JournalLines, NoteBox, Failed],
  template: `
    @if (mayWrite()) {
      <kettle-note-box [record]="record()" (written)="written.emit()" />
    }
    <div class="filters">
      <button
        i18n
        matButton
        type="button"
        [attr.aria-expanded]="isFiltering()"
        (click)="isFiltering.set(!isFiltering())"
      >
        filter
      </button>
      @if (isFiltering() || hasFilter()) {
        <kettle-choice-field
          ariaLabel="Kind"
          i18n-ariaLabel
          [options]="kindChoices"
          [value]="kinds()"
          (valueChange)="kinds.set($event!)"
        />
        <kettle-choice-field
          ariaLabel="Who"
          i18n-ariaLabel
          [options]="people()"
          [value]="userId()"
          (valueChange)="userId.set($event!)"
        />
        <kettle-day-field ariaLabel="From" i18n-ariaLabel [value]="from()" (valueChange)="from.set($event)" />
        <kettle-day-field ariaLabel="To" i18n-ariaLabel [value]="to()" (valueChange)="to.set($event)" />
      }
      @if (user.isManager()) {
        <button
          matButton
          type="button"
          [attr.aria-pressed]="withRemoved()"
          (click)="withRemoved.set(!withRemoved())"
        >
          {{ withRemoved() ? texts.hideRemoved : texts.showRemoved }}
        </button>
      }
      <button matButton type="button" (click)="isExpanded.set(!isExpanded())">
        {{ isExpanded() ? texts.foldAll : texts.expandAll }}
      </button>
    </div>
    <kettle-journal-lines
      [entries]="entries()"
      [showDeal]="record().kind !== 'deal'"
      [showPerson]="record().kind !== 'contact'"
      [canEdit]="true"
      [isExpanded]="isExpanded()"
      (changed)="written.emit()"
    />
    @if (entries().length === 0 && page()) {
      <p class="soft">
        @if (hasFilter()) {
          <ng-container i18n>
            The filter hides everything.
            <button matButton type="button" (click)="showAll()">show all</button>
          </ng-container>
        } @else {
          <ng-container i18n>Nothing has happened yet.</ng-container>
        }
      </p>
    }
    @if (before()) {
      <button i18n matButton type="button" (click)="more()">older entries</button>
    }
    @if (first.state(); as state) {
      @if (state.kind === 'failed') {
        <kettle-failed [problem]="state.problem" (again)="first.again()" />
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-2);
      justify-items: start;
    }
    kettle-note-box,
    kettle-journal-lines {
      inline-size: 100%;
    }
    .filters {
      display: flex;
      flex-wrap: wrap;
      gap: 4px;
      font-size: var(--text-small);
    }
    .filters .plain {
      inline-size: auto;
      max-inline-size: 112px;
      min-block-size: 26px;
      padding: 1px 4px;
    }
  `,
})
export class Journal {
  protected readonly texts = {
    hideRemoved: $localize`hide removed`,
    showRemoved: $localize`show removed`,
    foldAll: $localize`fold all`,
    expandAll: $localize`expand all`,
  };

  protected readonly user = inject(CurrentUser);
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  protected readonly words = inject(PeopleWords);
  readonly record = input.required<SubjectRecord>();
  readonly mayWrite = input(true);
  /** The newest page as nothing narrows it, read by whoever shows the journal; null until it is there. */
  readonly known = input.required<ReplyOf<'listJournal'> | null>();
  /** Something was written or changed: the newest page is out of date. */
  readonly written = output();

  private readonly noteBox = viewChild(NoteBox);
  protected readonly labels = journalKindLabel;
  protected readonly kindChoices = [
    { value: '', words: $localize`every kind` },
    ...labelled<string>(journalKindLabel),
  ];
  protected readonly people = computed(() => [
    { value: '', words: $localize`everybody` },
    ...named<string>(this.words.colleagues()),
  ]);
  protected readonly kinds = signal('');
  protected readonly userId = signal('');
  protected readonly from = signal('');
  protected readonly to = signal('');
  protected readonly isFiltering = signal(false);
  protected readonly withRemoved = signal(false);
  protected readonly isExpanded = signal(false);
  /** Straight into a note; nothing where nobody may write one. */
  beginNote(): void {
    this.noteBox()?.open();
  }

  protected readonly hasFilter = computed(() =>
    Boolean(this.kinds() || this.userId() || this.from() || this.to()),
  );
  /** The newest page of what is asked for here. */
  protected readonly first = reading((query: Query) => this.api.call('listJournal', { query }));
  private readonly later = signal<{ entries: readonly JournalEntry[]; before: string | null } | null>(null);
  protected readonly entries = computed(() => [
    ...(this.page()?.entries ?? []),
    ...(this.later()?.entries ?? []),
  ]);
  protected readonly before = computed(() => {
    const later = this.later();
    return later === null ? (this.page()?.before ?? null) : later.before;
  });
  /** Whether the page that is known is the one asked for. */
  private readonly isPlain = computed(() => !this.hasFilter() && !this.withRemoved() && !this.isExpanded());
  protected readonly page = computed(() => (this.isPlain() ? this.known() : this.first.value()));
  private readonly query = computed((): Query => {
    const { kind, id } = this.record();
    const about = { contact: { contactId: id }, deal: { dealId: id }, company: { companyId: id } }[kind];
    return {
      ...about,
      kinds: this.kinds() || undefined,
      userId: this.userId() || undefined,
      from: this.from() || undefined,
      to: this.to() || undefined,
      removed: this.withRemoved() ? 'yes' : undefined,
      limit: this.isExpanded() ? entriesWhenExpanded : pageEntries,
    };
  });

  constructor() {
    this.words.wake();
    effect(() => {
      this.query();
      untracked(() => this.later.set(null));
    });
    // A new first page says that something changed: what is narrowed is read again too.
    effect(() => {
      this.known();
      const query = this.query();
      if (!this.isPlain()) untracked(() => this.first.read(query));
    });
  }

  protected showAll(): void {
    for (const part of [this.kinds, this.userId, this.from, this.to]) part.set('');
  }

  protected more(): void {
    const before = this.before();
    if (before === null) return;
    this.api.call('listJournal', { query: { ...this.query(), before } }).subscribe({
      next: (page) =>
        this.later.update((known) => ({
          entries: [...(known?.entries ?? []), ...page.entries],
          before: page.before,
        })),
      error: (error: unknown) => this.notices.problem(problemOf(error)),
    });
  }
}
