import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  inject,
  Injector,
  signal,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import { Router, RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import type { Session } from '@kettle/contract';
import { exhaustMap, firstValueFrom, fromEvent, merge, take } from 'rxjs';
import { Api } from '../api/api';
import { SessionEnd } from '../api/session-end';
import { registerIcons } from '../kit/icons';
import { KeyHint } from '../kit/key-hint';
import { Pick } from '../kit/pick';
import { Waiting } from '../kit/states';
import { WordMark } from '../kit/word-mark';
import { Dossier } from '../features/dossier/index';
import { ChangeStream } from '../services/change-stream';
import { DaySpine } from './day-spine';
import { RecordActs } from './record-acts';
import { CurrentUser } from '../services/current-user';
import { Drafts } from '../services/drafts';
import { openJot } from '../features/jot/index';
import { Keys } from '../services/keys';
import { LateDialog } from '../kit/late-dialog';
import { NotificationBell } from './notification-bell';
import { Notices } from '../services/notices';
import { SelectedRecord } from '../services/selected-record';
import { Origin } from '../services/origin';
import type { MoreAsked } from './more-sheet';
import { SearchBox } from './search-box';
import { Theme } from '../services/theme';
import { UserMenu } from './user-menu';

interface Place {
  readonly path: string;
  readonly name: string;
  readonly key: string;
  readonly icon: string;
}

/** In their order in the bar. */
const places: readonly Place[] = [
  { path: '/home', name: $localize`Home`, key: 'h', icon: 'home' },
  { path: '/round', name: $localize`Round`, key: 'r', icon: 'round' },
  { path: '/people', name: $localize`People`, key: 'p', icon: 'person' },
  { path: '/deals', name: $localize`Deals`, key: 'd', icon: 'deal' },
  { path: '/mail', name: $localize`Mail`, key: 'm', icon: 'email' },
  { path: '/calendar', name: $localize`Calendar`, key: 'a', icon: 'calendar' },
  { path: '/cadences', name: $localize`Cadences`, key: 'c', icon: 'cadence' },
  { path: '/renewals', name: $localize`Renewals`, key: 'n', icon: 'renewal' },
  { path: '/numbers', name: $localize`Numbers`, key: 'u', icon: 'numbers' },
];
/** Those at the foot of a phone. */
const footPaths: ReadonlySet<string> = new Set(['/round', '/people', '/deals', '/mail']);

/** The frame of every screen: top bar, day spine at the left edge, the page, the dossier at the right. */
@Component({
  selector: 'kettle-shell',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    KeyHint,
    Pick,
    Waiting,
    MatButtonModule,
    RouterOutlet,
    RouterLink,
    RouterLinkActive,
    MatIcon,
    UserMenu,
    WordMark,
    DaySpine,
    Dossier,
    SearchBox,
    NotificationBell,
  ],
  providers: [RecordActs],
  templateUrl: './shell.html',
  styleUrl: './shell.scss',
})
export class Shell {
  protected readonly texts = {
    signedInAs: (name: string | number) => $localize`Signed in as ${name}:name:`,
  };

  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly dialogs = inject(LateDialog);
  private readonly notices = inject(Notices);
  private readonly stream = inject(ChangeStream);
  private readonly keys = inject(Keys);
  /** Woken with the frame, so that it sees every place that is gone to. */
  private readonly origin = inject(Origin);
  private readonly drafts = inject(Drafts);
  private readonly injector = inject(Injector);
  private readonly acts = inject(RecordActs);
  protected readonly user = inject(CurrentUser);
  protected readonly selected = inject(SelectedRecord);
  protected readonly theme = inject(Theme);

  protected readonly places = places;
  protected readonly atFoot = places.filter(({ path }) => footPaths.has(path));
  /** Walking, the act itself has the foot of the screen. */
  protected readonly isWalking = computed(() => this.selected.path().startsWith('/walk'));
  protected readonly isLive = this.stream.isLive;
  protected readonly isSpineOpen = signal(localStorage.getItem('kettle.spine') !== 'folded');
  protected readonly isSheetOpen = signal(false);
  protected readonly isMenuAsked = signal(false);
  private readonly menu = viewChild<UserMenu>('userMenu');
  protected readonly initials = computed(() => {
    const [first = '', ...rest] = (this.user.person()?.name ?? '').split(' ');
    return `${first.charAt(0)}. ${rest.at(-1) ?? ''}`.trim();
  });

  constructor() {
    registerIcons();
    this.stream.open();
    const acts = ['pointerdown', 'keydown'].map((name) => fromEvent(document, name, { capture: true }));
    merge(...acts)
      .pipe(take(1), takeUntilDestroyed())
      .subscribe(() => void this.dialogs.get());
    inject(DestroyRef).onDestroy(() => this.stream.close());
    inject(SessionEnd)
      .ends.pipe(
        exhaustMap(() => this.signInAgain()),
        takeUntilDestroyed(),
      )
      .subscribe();
    this.keys.bind(
      ...places.map((place) => ({
        keys: `g ${place.key}`,
        words: $localize`Go to ${place.name}`,
        act: () => void this.router.navigateByUrl(place.path),
      })),
      {
        keys: 'g l',
        words: $localize`Go to Leads`,
        act: () => void this.router.navigateByUrl('/deals/leads'),
      },
      {
        keys: 'g s',
        words: $localize`Go to Settings`,
        act: () => void this.router.navigateByUrl('/settings'),
      },
      { keys: 'Shift+?', words: $localize`This list of keys`, act: () => void this.showKeys() },
      {
        keys: 'g e',
        words: $localize`Go to the team log`,
        act: () => void this.router.navigateByUrl('/team'),
      },
      { keys: 'g t', words: $localize`Go to Tasks`, act: () => void this.router.navigateByUrl('/tasks') },
      { keys: 'j', words: $localize`Jot one line`, act: () => void this.jot() },
      { keys: 't', words: $localize`Plan a task with whoever is open`, act: () => void this.acts.planTask() },
      { keys: 'c', words: $localize`Log a call with whoever is open`, act: () => void this.acts.logCall() },
      { keys: 'm', words: $localize`Write a mail to whoever is open`, act: () => void this.acts.writeMail() },
      {
        keys: 'd',
        words: $localize`Defer the next step of whatever is open`,
        act: () => void this.acts.defer(),
      },
      { keys: 'o', words: $localize`Open the dossier as a page`, act: () => this.openPage() },
      { keys: 'Escape', words: $localize`Close the dossier`, act: () => this.selected.open(null) },
      { keys: '$mod+z', words: $localize`Undo what was just done`, act: () => void this.notices.undoLast() },
      { keys: '[', words: $localize`Fold the day away`, act: () => this.foldSpine() },
    );
  }

  protected jot(): Promise<void> {
    return openJot(this.dialogs, this.keys, this.selected.contactId());
  }

  protected foldSpine(): void {
    this.isSpineOpen.update((isOpen) => !isOpen);
    localStorage.setItem('kettle.spine', this.isSpineOpen() ? 'open' : 'folded');
  }

  /** It comes when it is asked for the first time, and opens by itself then. */
  protected openMenu(): void {
    this.isMenuAsked.set(true);
    this.menu()?.open();
  }

  protected openPage(): void {
    const record = this.selected.record();
    if (record !== null) void this.router.navigateByUrl(this.selected.pathOf(record));
  }

  protected async showKeys(): Promise<void> {
    const { KeyList } = await import('./key-list');
    await this.dialogs.open(KeyList, { data: this.keys.list() });
  }

  /** On a phone: the other places and what the menu of the bar holds, as a sheet from below. */
  protected async showMore(): Promise<void> {
    const [{ MatBottomSheet }, { MoreSheet }] = await Promise.all([
      import('@angular/material/bottom-sheet'),
      import('./more-sheet'),
    ]);
    this.injector
      .get(MatBottomSheet)
      .open<unknown, MoreAsked, string>(MoreSheet, {
        data: { places: places.filter(({ path }) => !footPaths.has(path)) },
      })
      .afterDismissed()
      .subscribe((chosen) => {
        if (chosen === 'sign-out') this.signOut();
        else if (chosen === 'day') this.isSheetOpen.update((isOpen) => !isOpen);
        else if (chosen !== undefined) void this.router.navigateByUrl(chosen);
      });
  }

  /** Nothing of the page is seen meanwhile, and nothing of it is lost. */
  private async signInAgain(): Promise<void> {
    if (this.user.session() === null) return;
    const { SignedOutDialog } = await import('./signed-out-dialog');
    await this.keys.rest();
    const asked = await this.dialogs.open<unknown, unknown, Session | null>(SignedOutDialog, {
      width: '420px',
      disableClose: true,
      backdropClass: 'covers',
    });
    const session = await firstValueFrom(asked.afterClosed());
    if (session) {
      this.user.enter(session);
      this.stream.renew();
      return;
    }
    this.drafts.forgetAll();
    location.assign('/sign-in');
  }

  protected signOut(): void {
    this.api.call('signOut').subscribe({
      next: () => {
        this.stream.close();
        this.drafts.forgetAll();
        this.user.leave();
        location.assign('/sign-in');
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
