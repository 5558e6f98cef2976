import { CdkDrag, CdkDropList } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatMenuModule } from '@angular/material/menu';
import { RouterLink } from '@angular/router';
import type { Home, HomeCard, HomeCardKind, Role, SavedView, ViewId } from '@kettle/contract';
import { homeCardKinds } from '@kettle/contract/home/kinds';
import { viewPlaces } from '@kettle/contract/views/kinds';
import { homeCardLabel } from '@kettle/contract/home/labels';
import { firstValueFrom, forkJoin, map } from 'rxjs';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { KeyHint } from '../../kit/key-hint';
import { moved } from '../../kit/order-handle';
import { Empty, Failed, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { HomeCardFrame } from './home-card';

/** Whose a new card is, and how wide: two columns where it has a table. */
const wide: ReadonlySet<HomeCardKind> = new Set(['team', 'effort', 'log', 'today', 'lanes']);

/** Cards of one's own choosing; dragged, sized, added and taken off. An admin sets what a role begins with. */
@Component({
  selector: 'kettle-home-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ...[CdkDrag, CdkDropList, Empty, Failed, HomeCardFrame, KeyHint, MatButtonModule, MatMenuModule],
    ...[RouterLink, Waiting],
  ],
  templateUrl: './home-page.html',
  styleUrl: './home-page.scss',
})
export class HomePage {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  protected readonly user = inject(CurrentUser);
  protected readonly labels = homeCardLabel;
  protected readonly isArranging = signal(false);
  protected readonly views = signal<readonly SavedView[]>([]);
  /** A card of a view is chosen by its view; the team's day is for who leads one. */
  protected readonly kinds = homeCardKinds.filter(
    (kind) => kind !== 'view' && (kind !== 'team' || this.user.isManager()),
  );
  protected readonly roles: readonly { readonly value: Role; readonly words: string }[] = [
    { value: 'rep', words: $localize`all reps` },
    { value: 'manager', words: $localize`all managers` },
    { value: 'admin', words: $localize`all admins` },
  ];
  protected readonly home = reading((_: null) => this.api.call('readHome'));
  /** What the hand has made of it and the server has not confirmed: an older reading that comes in meanwhile does not show. */
  private readonly draft = signal<Home | null>(null);
  protected readonly shown = computed(() => this.draft() ?? this.home.value());
  /** What is shown and not yet sent; one request is on its way at a time. */
  private waiting: { readonly cards: readonly HomeCard[]; readonly words: string } | null = null;
  private isSending = false;

  constructor() {
    this.home.read(null);
    // Arranged in another window, or set for the role by an admin.
    inject(ChangeStream)
      .of('home')
      .pipe(takeUntilDestroyed())
      .subscribe(() => !this.isSending && this.home.again());
    inject(Keys).bind({
      keys: 'e',
      words: $localize`Arrange Home`,
      act: () => this.isArranging.update((is) => !is),
    });
  }

  protected move(from: number, to: number): void {
    const cards = this.cards();
    if (from !== to) this.arrange(moved(cards, from, to), $localize`Moved.`);
  }

  protected change(card: HomeCard, part: Partial<HomeCard>): void {
    this.arrange(
      this.cards().map((each) => (each.id === card.id ? { ...each, ...part } : each)),
      $localize`Changed.`,
    );
  }

  protected remove(card: HomeCard): void {
    const name = homeCardLabel[card.kind];
    this.arrange(
      this.cards().filter(({ id }) => id !== card.id),
      $localize`${name}:name: is taken off.`,
    );
  }

  protected add(kind: HomeCardKind, viewId: ViewId | null = null): void {
    const card: HomeCard = {
      ...{ id: v7(), kind, viewId, as: 'list' },
      width: wide.has(kind) ? 2 : 1,
      whose: kind === 'log' || this.user.isManager() ? 'team' : 'mine',
    };
    const name = homeCardLabel[kind];
    this.arrange([card, ...this.cards()], $localize`${name}:name: stands first.`);
  }

  protected readViews(): void {
    forkJoin(viewPlaces.map((place) => this.api.call('listViews', { query: { place } })))
      .pipe(map((all) => all.flatMap(({ views }) => views)))
      .subscribe({
        next: (views) => this.views.set(views),
        error: (error: unknown) => this.notices.problem(error),
      });
  }

  protected reset(): void {
    const changeId = v7();
    this.api.call('resetHome', {}, changeId).subscribe({
      next: (home) => {
        this.home.put(home);
        this.undo.offer($localize`As it is set for your role.`, changeId, () => this.home.again());
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected setFor(role: Role): void {
    const cards = [...this.cards()];
    const changeId = v7();
    const words = this.roles.find(({ value }) => value === role)?.words ?? '';
    this.api.call('arrangeRoleHome', { params: { role }, body: { cards } }, changeId).subscribe({
      next: () =>
        this.undo.offer(
          $localize`It is the Home of ${words}:words: who arranged none of their own.`,
          changeId,
          () => this.home.again(),
        ),
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  private cards(): readonly HomeCard[] {
    return this.shown()?.cards ?? [];
  }

  /** Shown at once; what is done while a request is on its way follows it. */
  private arrange(cards: readonly HomeCard[], words: string): void {
    const known = this.home.value();
    if (known === null) return;
    this.draft.set({ ...known, cards: [...cards], of: 'own' });
    this.waiting = { cards, words };
    if (!this.isSending) void this.send(known.version);
  }

  private async send(version: number | null): Promise<void> {
    this.isSending = true;
    let seen = version;
    try {
      while (this.waiting !== null) {
        const { cards, words } = this.waiting;
        this.waiting = null;
        const changeId = v7();
        const body = { cards: [...cards], version: seen };
        const home = await firstValueFrom(this.api.call('arrangeHome', { body }, changeId));
        seen = home.version;
        // What was done meanwhile is on screen already.
        if (this.hasWaiting()) continue;
        this.home.put(home);
        this.draft.set(null);
        this.undo.offer(words, changeId, () => this.home.again());
      }
    } catch (error) {
      this.waiting = null;
      this.draft.set(null);
      this.notices.problem(error);
      this.home.again();
    } finally {
      this.isSending = false;
    }
  }

  private hasWaiting(): boolean {
    return this.waiting !== null;
  }
}
