import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  Injector,
  input,
  signal,
  untracked,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import type { GridCount, ListPlace, SavedView, ViewId } from '@kettle/contract';
import { viewPlaces } from '@kettle/contract/views/kinds';
import { sayMoney } from '@kettle/core/money';
import { catchError, defer, forkJoin, from, map, type Observable, of, switchMap } from 'rxjs';
import { Api } from '../../api/api';
import { ChartView } from '../../kit/chart';
import { CountPipe } from '../../kit/say.pipes';
import { CurrentUser } from '../../services/current-user';
import type { GridRow, GridSpec } from '../grid/index';
import { listSpecs, makeSpec } from '../lists/index';
import { ReportCard } from '../numbers/index';
import { CardBody } from './card-body';
import { cardReading } from './card-reading';

const shown = 8;

const paths: Readonly<Record<ListPlace, string>> = {
  people: '/people',
  companies: '/people/companies',
  tasks: '/tasks',
  deals: '/deals',
  leads: '/deals/leads',
  agreements: '/renewals',
  mail: '/mail',
};

interface Line {
  readonly id: string;
  readonly name: string;
  readonly under: string;
}

interface Shown {
  readonly place: ListPlace;
  readonly view: SavedView;
  readonly query: Readonly<Record<string, string>>;
  readonly count: GridCount;
  readonly lines: readonly Line[];
  readonly counted: string;
}

const pagesOf = { contact: '/people', company: '/companies', deal: '/deals', lead: '/deals/leads' } as const;

/** A saved view of any list: its first rows, or how many are in each of its groups as bars. */
@Component({
  selector: 'kettle-view-card',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CardBody, ChartView, CountPipe, ReportCard, RouterLink],
  template: `
    <kettle-card-body [of]="read">
      <ng-template>
        @if (report(); as view) {
          <kettle-report-card [view]="view" [shape]="shape()" />
        } @else if (shownView(); as it) {
          <p>
            <a [routerLink]="path()" [queryParams]="it.query">{{ it.view.name }}</a>
            &ngsp;
            <span class="soft">{{ it.count.found | count: it.counted }}</span>
          </p>
          @if (shape() === 'chart') {
            @if (it.count.groups.length > 0) {
              <kettle-chart
                kind="bars"
                [label]="it.view.name"
                labelHead="group"
                i18n-labelHead
                [height]="180"
                [labels]="labels()"
                [series]="series()"
                [say]="say"
              />
            } @else {
              <p i18n class="soft">This view has no groups. Group it in its list and save it again.</p>
            }
          } @else {
            <ul>
              @for (each of it.lines; track each.id) {
                <li>
                  @if (linkOf(each); as link) {
                    <a [routerLink]="link">{{ each.name }}</a>
                  } @else {
                    {{ each.name }}
                  }
                  <span class="soft">{{ each.under }}</span>
                </li>
              }
            </ul>
          }
        } @else {
          <p i18n class="soft">This view was deleted, or is not shared any more. Remove the card.</p>
        }
      </ng-template>
    </kettle-card-body>
  `,
  styles: `
    ul {
      display: grid;
      gap: 4px;
      margin-block-start: var(--space-1);
    }
    li {
      display: flex;
      gap: var(--space-2);
      min-inline-size: 0;
    }
    li .soft {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
  `,
})
export class ViewCard {
  private readonly api = inject(Api);
  private readonly injector = inject(Injector);
  private readonly user = inject(CurrentUser);
  readonly viewId = input.required<ViewId>();
  readonly shape = input.required<'list' | 'chart'>();
  private readonly links = signal<ReadonlyMap<string, readonly string[]>>(new Map());
  protected readonly read = cardReading(
    (id: ViewId): Observable<{ readonly shown: Shown | null; readonly report: SavedView | null }> =>
      this.find(id).pipe(
        switchMap((view) => {
          if (view?.place === 'numbers') return of({ shown: null, report: view });
          const shown = view === null ? of(null) : this.look(view, view.place);
          return shown.pipe(map((each) => ({ shown: each, report: null })));
        }),
      ),
    'view',
    'contact',
    'deal',
    'task',
    'lead',
    'agreement',
  );
  protected readonly shownView = computed(() => this.read.value()?.shown ?? null);
  /** One under Numbers is a report. */
  protected readonly report = computed(() => this.read.value()?.report ?? null);
  protected readonly path = computed(() => paths[this.shownView()?.place ?? 'people']);
  protected readonly labels = computed(() => this.shownView()?.count.groups.map(({ name }) => name) ?? []);
  protected readonly series = computed(() => [
    {
      name: this.shownView()?.view.name ?? '',
      values: this.shownView()?.count.groups.map(({ count }) => count) ?? [],
    },
  ]);
  protected readonly say = (count: number) => String(count);

  constructor() {
    effect(() => {
      const id = this.viewId();
      untracked(() => this.read.read(id));
    });
  }

  protected linkOf({ id }: Line): readonly string[] | null {
    return this.links().get(id) ?? null;
  }

  /** A view is known by its place; which one it is of is not. */
  private find(id: ViewId): Observable<SavedView | null> {
    return forkJoin(viewPlaces.map((place) => this.api.call('listViews', { query: { place } }))).pipe(
      map((all) => all.flatMap(({ views }) => views).find((view) => view.id === id) ?? null),
    );
  }

  private look(view: SavedView, place: ListPlace): Observable<Shown | null> {
    return defer(() => from(listSpecs[place]())).pipe(
      switchMap((Spec) => {
        const spec = makeSpec(Spec, this.injector);
        const query = Object.fromEntries(new URLSearchParams(view.query));
        const { cols: _, as: __, group = spec.usualGroup, ...asked } = query;
        const base = { ...spec.usual, ...asked };
        return forkJoin({
          rows: spec.rows(base, { after: 0, limit: shown }),
          count: spec.count({ ...base, ...(group && { group }) }),
        }).pipe(
          map(({ rows, count }) => {
            this.links.set(new Map(rows.flatMap((row) => linkOf(spec, row))));
            return {
              ...{ place, view, query, count, counted: spec.words.counted },
              lines: rows.map((row) => ({
                id: row.id,
                name: spec.nameOf(row),
                under: underOf(spec, row, this.user.currency()),
              })),
            };
          }),
        );
      }),
      // What the view asks for is gone: a field, a standing.
      catchError(() => of(null)),
    );
  }
}

function linkOf(spec: GridSpec, row: GridRow): [string, readonly string[]][] {
  const own = spec.linkOf(row, spec.nameKey);
  const record = spec.recordOf(row);
  const link = own ?? (record === null ? null : [pagesOf[record.kind], record.id]);
  return link === null ? [] : [[row.id, link]];
}

/** The text that a phone shows beside the name. */
function underOf(spec: GridSpec, row: GridRow, home: string): string {
  const field = spec.fields[spec.phoneKeys[0]];
  const value = field?.of(row) ?? null;
  if (typeof value === 'number' && field?.type === 'money')
    return sayMoney(value, field.currencyOf?.(row) ?? home);
  return typeof value === 'string' && field?.type === 'text' ? value : '';
}
