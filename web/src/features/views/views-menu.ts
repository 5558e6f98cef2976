import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatMenuModule } from '@angular/material/menu';
import type { SavedView, ViewPlace } from '@kettle/contract';
import type { Observable } from 'rxjs';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';

/** Saved views of a place: mine and shared, one to land on. */
@Component({
  selector: 'kettle-views-menu',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatMenuModule],
  template: `
    @for (view of favourites(); track view.id) {
      <button
        matButton
        type="button"
        [attr.aria-pressed]="view.id === current()?.id"
        (click)="chosen.emit(view.query)"
      >
        {{ view.name }}
      </button>
    }
    <button matButton type="button" [matMenuTriggerFor]="menu">
      {{ current() && !current()!.isFavourite ? current()!.name : 'views' }}
    </button>
    <mat-menu #menu="matMenu">
      @for (view of views(); track view.id) {
        <button mat-menu-item (click)="chosen.emit(view.query)">
          {{ view.name }}
          <span class="soft">
            @if (view.ownerId !== user.person()?.id) {
              · {{ view.ownerName }}
            }
            @if (view.isLanding) {
              · landed on
            }
          </span>
        </button>
      }
      <button mat-menu-item (click)="save()">save this view …</button>
      @if (current(); as view) {
        <button mat-menu-item (click)="favour(view)">
          {{ view.isFavourite ? 'no longer keep it at hand' : 'keep it at hand' }}
        </button>
        <button mat-menu-item (click)="pin(view)">
          {{ view.isLanding ? 'no longer land on it' : 'land on it' }}
        </button>
        @if (view.ownerId === user.person()?.id) {
          <button mat-menu-item (click)="share(view)">
            {{ view.isShared ? 'keep it to myself' : 'share it with the team' }}
          </button>
          <button mat-menu-item (click)="remove(view)">remove it</button>
        }
      }
    </mat-menu>
  `,
  styles: `
    [aria-pressed='true'] {
      font-weight: 600;
    }
  `,
})
export class ViewsMenu {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  protected readonly user = inject(CurrentUser);
  readonly place = input.required<ViewPlace>();
  /** The view on screen, as an address query. */
  readonly query = input.required<string>();
  readonly chosen = output<string>();
  private readonly loaded = reading((place: ViewPlace) => this.api.call('listViews', { query: { place } }));
  protected readonly views = computed(() => this.loaded.value()?.views ?? []);
  /** Kept at hand, beside the menu. */
  protected readonly favourites = computed(() => this.views().filter((view) => view.isFavourite));
  protected readonly current = computed(() =>
    this.query() === '' ? null : (this.views().find((view) => view.query === this.query()) ?? null),
  );
  private hasLanded = false;

  constructor() {
    effect(() => {
      const place = this.place();
      untracked(() => this.loaded.read(place));
    });
    effect(() => {
      const landing = this.views().find((view) => view.isLanding);
      untracked(() => {
        if (this.loaded.value() === null || this.hasLanded) return;
        this.hasLanded = true;
        // Only who comes without a view of their own is led to the one they land on.
        if (landing && this.query() === '') this.chosen.emit(landing.query);
      });
    });
    inject(ChangeStream)
      .of('view')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.loaded.again());
  }

  protected async save(): Promise<void> {
    const { ViewDialog } = await import('./view-dialog');
    this.dialog
      .open(ViewDialog, { data: { place: this.place(), query: this.query() }, width: '400px' })
      .afterClosed()
      .subscribe(() => this.loaded.again());
  }

  protected pin(view: SavedView): void {
    this.act(this.api.call('pinView', { params: { id: view.id }, body: { isLanding: !view.isLanding } }));
  }

  protected favour(view: SavedView): void {
    const body = { isFavourite: !view.isFavourite };
    this.act(this.api.call('favourView', { params: { id: view.id }, body }));
  }

  protected share(view: SavedView): void {
    const { name, query, version } = view;
    const body = { name, query, version, isShared: !view.isShared };
    this.act(this.api.call('changeView', { params: { id: view.id }, body }));
  }

  protected remove(view: SavedView): void {
    this.api.call('removeView', { params: { id: view.id } }).subscribe({
      next: () => {
        this.loaded.again();
        const { place, name, query, isShared } = view;
        this.notices.say(`The view ${name} is gone.`, () =>
          this.act(this.api.call('saveView', { body: { place, name, query, isShared } })),
        );
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  private act(asked: Observable<unknown>): void {
    asked.subscribe({
      next: () => this.loaded.again(),
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
