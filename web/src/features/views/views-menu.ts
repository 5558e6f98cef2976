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
import type { ViewAsked } from './view-dialog';

/** Saved views of a place: mine and shared, one to land on. */
@Component({
  selector: 'kettle-views-menu',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatMenuModule],
  template: `
    @for (view of favourites(); track view.id) {
      <button matButton type="button" [attr.aria-pressed]="view.id === current()?.id" (click)="choose(view)">
        {{ view.name }}
      </button>
    }
    <button matButton type="button" [matMenuTriggerFor]="menu">
      {{
        current() && !current()!.isFavourite
          ? current()!.name
          : changed()
            ? texts.changed(changed()!.name)
            : texts.views
      }}
    </button>
    <mat-menu #menu="matMenu">
      @for (view of views(); track view.id) {
        <button mat-menu-item (click)="choose(view)">
          {{ view.name }}
          <span class="soft">
            @if (view.ownerId !== user.person()?.id) {
              · {{ view.ownerName }}
            }
            @if (view.isLanding) {
              &ngsp;
              <ng-container i18n>· opened first</ng-container>
            }
          </span>
        </button>
      }
      <button i18n mat-menu-item (click)="save()">Save this view …</button>
      @if (changed(); as view) {
        <button i18n mat-menu-item (click)="overwrite(view)">Save over “{{ view.name }}”</button>
      }
      @if (current(); as view) {
        <button mat-menu-item (click)="favour(view)">
          {{ view.isFavourite ? texts.unpin : texts.pinBesideThisMenu }}
        </button>
        <button mat-menu-item (click)="pin(view)">
          {{ view.isLanding ? texts.noLongerOpenFirst : texts.openFirst }}
        </button>
        @if (view.ownerId === user.person()?.id) {
          <button mat-menu-item (click)="share(view)">
            {{ view.isShared ? texts.stopSharing : texts.shareWithTheTeam }}
          </button>
          <button i18n mat-menu-item (click)="rename(view)">Rename …</button>
          <button i18n mat-menu-item (click)="remove(view)">Remove</button>
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
  protected readonly texts = {
    changed: (name: string | number) => $localize`${name}:name:, changed`,
    views: $localize`views`,
    unpin: $localize`Unpin`,
    pinBesideThisMenu: $localize`Pin beside this menu`,
    noLongerOpenFirst: $localize`No longer open first`,
    openFirst: $localize`Open first`,
    stopSharing: $localize`Stop sharing`,
    shareWithTheTeam: $localize`Share with the team`,
  };

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
  /** The one that was chosen last: what is on screen may be it, changed. */
  private readonly last = signal<string | null>(null);
  /** One's own view that was chosen and narrowed or arranged otherwise since. */
  protected readonly changed = computed(() => {
    const view = this.views().find(({ id }) => id === this.last());
    const isMine = view?.ownerId === this.user.person()?.id;
    return view !== undefined && isMine && this.query() !== '' && view.query !== this.query() ? view : null;
  });
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
        if (landing && this.query() === '') this.choose(landing);
      });
    });
    inject(ChangeStream)
      .of('view')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.loaded.again());
  }

  protected choose(view: SavedView): void {
    this.last.set(view.id);
    this.chosen.emit(view.query);
  }

  /** What is on screen takes the place of what the view was. */
  protected overwrite(view: SavedView): void {
    const { name, isShared, version, query: before } = view;
    const call = (query: string, seen: number) =>
      this.api.call('changeView', {
        params: { id: view.id },
        body: { name, isShared, version: seen, query },
      });
    call(this.query(), version).subscribe({
      next: (now) => {
        this.loaded.again();
        this.notices.say($localize`${name} is as it is on screen.`, () =>
          this.act(call(before, now.version)),
        );
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected rename(view: SavedView): Promise<void> {
    return this.openDialog({ place: this.place(), query: view.query, view });
  }

  protected save(): Promise<void> {
    return this.openDialog({ place: this.place(), query: this.query() });
  }

  private async openDialog(data: ViewAsked): Promise<void> {
    const { ViewDialog } = await import('./view-dialog');
    this.dialog
      .open<unknown, ViewAsked, SavedView>(ViewDialog, { data, width: '400px' })
      .afterClosed()
      .subscribe((view) => {
        if (view) this.last.set(view.id);
        this.loaded.again();
      });
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
        this.notices.say($localize`The view ${name} is removed.`, () =>
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
