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
import { MatButtonModule } from '@angular/material/button';
import type { CallOf, DealId, JournalEntry, UserId } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { debounceTime } from 'rxjs';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { ChoiceField } from '../../kit/choice-field';
import { Empty, Failed, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { Notices } from '../../services/notices';
import { SelectedRecord } from '../../services/selected-record';
import { DealPicker } from '../deals/index';
import { JournalLines } from '../dossier/index';
import { PeopleWords } from '../fields/index';

type Query = NonNullable<CallOf<'teamLog'>['query']>;
const settleMillis = 1_000;

/** Everything the team logged, newest first, by person, kind and deal; to comment, to thank. */
@Component({
  selector: 'kettle-team-log',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, DealPicker, Empty, Failed, JournalLines, MatButtonModule, Waiting],
  template: `
    <div class="narrow">
      <kettle-choice-field
        ariaLabel="Who"
        i18n-ariaLabel
        [options]="people()"
        [value]="user() ?? ''"
        (valueChange)="selected.setQuery({ user: $event || null })"
      />
      <kettle-choice-field
        ariaLabel="What"
        i18n-ariaLabel
        [options]="kindOptions"
        [value]="kinds() ?? ''"
        (valueChange)="selected.setQuery({ kinds: $event || null })"
      />
      @if (deal()) {
        <button i18n matButton type="button" (click)="selected.setQuery({ deal: null })">one deal ×</button>
      } @else {
        <kettle-deal-picker
          label="Deal"
          i18n-label
          (pickedRow)="$event && selected.setQuery({ deal: $event.id })"
        />
      }
      @if (isNarrowed()) {
        <button i18n matButton type="button" (click)="showAll()">Show everything</button>
      }
    </div>
    @if (page.value(); as first) {
      <kettle-journal-lines
        [entries]="entries()"
        showDeal
        showPerson
        isLinked
        canEdit
        (changed)="page.again()"
      />
      @if (entries().length === 0) {
        <kettle-empty [title]="isNarrowed() ? texts.nothingOfThat : texts.nothing">
          <ng-container i18n>
            Calls, mails, meetings and notes stand here as soon as somebody logs them.
          </ng-container>
        </kettle-empty>
      }
      @if (before() !== null) {
        <button i18n matButton="outlined" type="button" (click)="more()">Earlier ones</button>
      }
    } @else if (page.state(); as state) {
      @if (state.kind === 'failed') {
        <kettle-failed [problem]="state.problem" (again)="page.again()" />
      } @else {
        <kettle-waiting />
      }
    }
  `,
  styles: `
    :host {
      display: block;
      max-inline-size: 860px;
    }
  `,
})
export class TeamLog {
  protected readonly texts = {
    nothing: $localize`Nothing was logged yet`,
    nothingOfThat: $localize`Nothing of that was logged`,
  };
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly words = inject(PeopleWords);
  protected readonly selected = inject(SelectedRecord);
  readonly user = input<string>();
  readonly kinds = input<string>();
  readonly deal = input<string>();

  protected readonly people = computed(() => [
    { value: '', words: $localize`everybody` },
    ...this.words.colleagues().map(({ id, name }) => ({ value: id as string, words: name })),
  ]);
  protected readonly kindOptions = [
    { value: '', words: $localize`everything` },
    ...Object.entries(channelLabel).map(([value, words]) => ({ value, words })),
    { value: 'note', words: $localize`Note` },
  ];
  protected readonly isNarrowed = computed(
    () => this.user() !== undefined || this.kinds() !== undefined || this.deal() !== undefined,
  );
  private readonly query = computed((): Query => ({
    userId: this.user() as UserId | undefined,
    kinds: this.kinds() as never,
    dealId: this.deal() as DealId | undefined,
  }));
  protected readonly page = reading((query: Query) => this.api.call('teamLog', { query }));
  /** Pages behind the first; what is new stands before them. */
  private readonly further = signal<{
    readonly entries: readonly JournalEntry[];
    readonly before: string | null;
  } | null>(null);
  protected readonly entries = computed(() => {
    const first = this.page.value()?.entries ?? [];
    const known = new Set(first.map(({ id }) => id));
    return [...first, ...(this.further()?.entries ?? []).filter(({ id }) => !known.has(id))];
  });
  protected readonly before = computed(() => {
    const further = this.further();
    return further === null ? (this.page.value()?.before ?? null) : further.before;
  });

  constructor() {
    this.words.wake();
    effect(() => {
      const query = this.query();
      untracked(() => {
        this.further.set(null);
        this.page.read(query);
      });
    });
    inject(ChangeStream)
      .of('journal')
      .pipe(debounceTime(settleMillis), takeUntilDestroyed())
      .subscribe(() => this.page.again());
  }

  protected showAll(): void {
    this.selected.setQuery({ user: null, kinds: null, deal: null });
  }

  protected more(): void {
    const before = this.before();
    if (before === null) return;
    const query = this.query();
    this.api.call('teamLog', { query: { ...query, before } }).subscribe({
      next: (page) => {
        // Another person or kind was chosen meanwhile.
        if (query === this.query())
          this.further.update((known) => ({
            entries: [...(known?.entries ?? []), ...page.entries],
            before: page.before,
          }));
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
