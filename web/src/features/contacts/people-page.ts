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
import { RouterLink } from '@angular/router';
import type { CallOf, ContactRow } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { ExplainedWord } from '../../kit/own-word';
import { Pick } from '../../kit/pick';
import { DayPipe } from '../../kit/say.pipes';
import { Empty, Waiting } from '../../kit/states';
import { StepDay } from '../../kit/step-day';
import { Tether } from '../../kit/tether';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import { SelectedRecord } from '../../services/selected-record';
import { Undo } from '../../services/undo';
import { PeopleWords } from '../fields/index';
import { GridPicks, gridParts, type GridQuery, GridStore, GridView, provideGrid } from '../grid/index';
import { PeopleGrid } from './people-grid';
import { PeopleTabs } from './people-tabs';
import { PickedPeople } from './picked-people';

/** The list of contacts: standings with due and all, search, filter, sort, group, edit in the cell, many at once. */
@Component({
  selector: 'kettle-people-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { class: 'whole' },
  imports: [
    ExplainedWord,
    gridParts,
    MatButtonModule,
    Pick,
    DayPipe,
    RouterLink,
    StepDay,
    Tether,
    Empty,
    Waiting,
    PeopleTabs,
  ],
  providers: [provideGrid(PeopleGrid), PickedPeople],
  templateUrl: './people-page.html',
  styleUrl: './people-page.scss',
})
export class PeoplePage {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  protected readonly store = inject<GridStore<ContactRow>>(GridStore);
  protected readonly view = inject<GridView<ContactRow>>(GridView);
  protected readonly picks = inject<GridPicks<ContactRow>>(GridPicks);
  protected readonly picked = inject(PickedPeople);
  protected readonly words = inject(PeopleWords);
  protected readonly user = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);

  /** The view, kept in the address. */
  readonly q = input<string>();
  readonly sort = input<string>();
  readonly group = input<string>();
  readonly cols = input<string>();
  readonly filter = input<string>();
  readonly owner = input<'mine' | 'unowned' | 'all'>();
  readonly standing = input<string>();
  readonly quiet = input<'yes'>();
  readonly archived = input<'yes'>();
  protected readonly owners = [
    ['all', $localize`everyone’s`],
    ['mine', $localize`mine`],
    ['unowned', $localize`unowned`],
  ] as const;

  /** Of the people that are listed, so that a press on one shows as many as it says: all that narrows them but a standing. */
  private readonly ofView = computed(
    () => {
      const { standing: _, sort: __, group: ___, ...narrowing } = this.view.query();
      return narrowing;
    },
    { equal: (one, other) => JSON.stringify(one) === JSON.stringify(other) },
  );
  private readonly standingRead = reading((view: GridQuery) =>
    this.api.call('listStandings', { query: view as CallOf<'listStandings'>['query'] }),
  );
  protected readonly standings = computed(() => this.standingRead.value()?.standings ?? []);

  constructor() {
    effect(() => {
      const view = this.ofView();
      untracked(() => this.standingRead.read(view));
    });
    inject(ChangeStream)
      .counted('contact', 'journal', 'import', 'setting')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.standingRead.again());
    this.words.wake();
    this.view.follow(
      computed(() => ({
        q: this.q(),
        sort: this.sort(),
        group: this.group(),
        cols: this.cols(),
        filter: this.filter(),
        owner: this.owner(),
        standing: this.standing(),
        quiet: this.quiet(),
        archived: this.archived(),
      })),
    );
    inject(Keys).bind(
      { keys: 'a', words: $localize`Add a person`, act: () => void this.addPerson() },
      { keys: 'b', words: $localize`Change the picked ones`, act: () => void this.picked.changeMany() },
    );
  }

  protected claim(row: ContactRow): void {
    const changeId = v7();
    this.api.call('claimContact', { params: { id: row.id } }, changeId).subscribe({
      next: (claimed) => {
        this.store.put(row.id, claimed);
        this.undo.offer($localize`${claimed.name} is yours.`, changeId, () => this.store.again());
      },
      error: (error: unknown) => {
        this.notices.problem(error);
        this.store.again();
      },
    });
  }

  protected async addPerson(): Promise<void> {
    const { ContactDialog } = await import('./contact-dialog');
    this.dialog
      .open(ContactDialog, { data: null, width: '640px' })
      .afterClosed()
      .subscribe((made: { id: string } | undefined) => {
        if (made) this.selected.open({ kind: 'contact', id: made.id });
      });
  }
}
