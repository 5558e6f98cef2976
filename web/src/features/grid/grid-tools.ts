import {
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  effect,
  inject,
  input,
  linkedSignal,
  untracked,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatMenuModule } from '@angular/material/menu';
import { ActivatedRoute, Router, RouterLink } from '@angular/router';
import {
  cardFiles,
  fileEnding,
  type ListFile,
  listFiles,
  mostSheetRows,
} from '@kettle/contract/base/list-files';
import { writeNumber } from '@kettle/core/locale';
import { debounceTime, distinctUntilChanged } from 'rxjs';
import { fieldParts } from '../../kit/field';
import { CurrentUser } from '../../services/current-user';
import { Keys } from '../../services/keys';
import { SelectedRecord } from '../../services/selected-record';
import { ViewsMenu } from '../views/index';
import { FilterBuilder } from './filter-builder';
import { GridPicks } from './grid-picks';
import { type GridRow, GridSpec } from './grid-spec';
import { GridStore } from './grid-store';
import { GridView } from './grid-view';

const settleMillis = 160;

const fileWords: Readonly<Record<ListFile, string>> = {
  csv: 'CSV',
  xlsx: 'XLSX',
  'vcard-3': $localize`vCard 3`,
  'vcard-4': $localize`vCard 4`,
};

/** The search field of a list: what is typed goes into the address once it has settled. */
@Component({
  selector: 'kettle-grid-search',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [fieldParts],
  template: `
    <mat-form-field class="small">
      <input
        matInput
        #search
        type="search"
        [placeholder]="placeholder()"
        [attr.aria-label]="texts.searchInThisList"
        [value]="typed()"
        (input)="typed.set(search.value)"
      />
    </mat-form-field>
  `,
  styles: `
    :host {
      flex: 0 1 auto;
      inline-size: 200px;
      min-inline-size: 90px;
    }
    @media (width < 700px) {
      /* Beside what scrolls sideways, what it searches stays legible. */
      :host {
        min-inline-size: 172px;
      }
    }
    mat-form-field.small {
      inline-size: 100%;
    }
  `,
})
export class GridSearch {
  protected readonly texts = {
    searchInThisList: $localize`Search in this list (F)`,
  };

  private readonly selected = inject(SelectedRecord);
  private readonly view = inject(GridView);
  readonly placeholder = input.required<string>();
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('search');
  private readonly asked = computed(() => this.view.address()['q'] ?? '');
  protected readonly typed = linkedSignal(() => this.asked());

  constructor() {
    toObservable(this.typed)
      .pipe(debounceTime(settleMillis), distinctUntilChanged(), takeUntilDestroyed())
      .subscribe((words) => {
        if (words !== this.asked()) this.selected.setQuery({ q: words || null });
      });
    inject(Keys).bind({
      keys: 'f',
      words: $localize`Search in this list`,
      act: () => this.box().nativeElement.select(),
    });
  }
}

/**
 * Above a list: its filters (the content), columns, grouping, saved views, file, and how many are found and hidden; under them the questions
 * of the filter and what is picked (content marked `picked`).
 */
@Component({
  selector: 'kettle-grid-tools',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatMenuModule, RouterLink, FilterBuilder, ViewsMenu],
  templateUrl: './grid-tools.html',
  styleUrl: './grid-tools.scss',
})
export class GridTools<Row extends GridRow> {
  protected readonly texts = {
    groupedBy: (groupName: string | number) => $localize`grouped by ${groupName}:groupName:`,
    group: $localize`group`,
    picked: (many: string | number) => $localize`Picked ${many}:many:`,
  };

  protected readonly spec = inject<GridSpec<Row>>(GridSpec);
  protected readonly store = inject<GridStore<Row>>(GridStore);
  protected readonly view = inject<GridView<Row>>(GridView);
  protected readonly picks = inject<GridPicks<Row>>(GridPicks);
  protected readonly user = inject(CurrentUser);
  private readonly router = inject(Router);
  private readonly route = inject(ActivatedRoute);
  /** What the view, or what is picked of it, can be taken along as. */
  protected readonly files = computed(() => {
    const { picks, spec, store } = this;
    const count = picks.ids().size > 0 && !picks.isAll() ? picks.ids().size : store.found();
    const kinds: readonly ListFile[] = [...listFiles, ...(spec.hasCards ? cardFiles : [])];
    return kinds.map((as) => ({
      ...{ as, words: fileWords[as], ending: fileEnding[as] },
      tooMany:
        as === 'xlsx' && count > mostSheetRows
          ? $localize`XLSX has ${writeNumber(mostSheetRows)}:most: rows at most: take CSV`
          : null,
    }));
  });
  /** Whether the rows are shown as the grid just now: a picture of them has no columns. */
  readonly isGrid = input(true);

  constructor() {
    effect(() => {
      const query = this.view.query();
      const withCounted = this.view.columns().some(({ isCounted }) => isCounted === true);
      if (!this.isGrid()) return;
      untracked(() => {
        this.picks.isAll.set(false);
        this.store.show(query, withCounted);
      });
    });
  }

  protected showView(query: string): void {
    void this.router.navigate([], {
      relativeTo: this.route,
      queryParams: Object.fromEntries(new URLSearchParams(query)),
    });
  }
}
