import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { Router, RouterLink } from '@angular/router';
import type { CallOf, Stirring, StirringKind } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { CountPipe, MomentPipe } from '../../kit/say.pipes';
import { Empty, Failed, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { PersonPicker } from '../fields/index';
import { openWrite } from './open-write';

const icons: Readonly<Record<StirringKind, string>> = {
  opened: 'email',
  clicked: 'right',
  replied: 'undo',
  away: 'clock',
  bounced: 'close',
  unsubscribed: 'close',
  'text-in': 'text',
  'missed-call': 'call',
  form: 'note',
};

/** Every sign of life, newest first, with what can be done about it by a key. */
@Component({
  selector: 'kettle-stirring-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    CountPipe,
    MatButtonModule,
    MatIcon,
    RouterLink,
    PersonPicker,
    MomentPipe,
    Empty,
    Failed,
    Waiting,
  ],
  template: `
    <div class="filters">
      <div class="words" role="group" aria-label="Which" i18n-aria-label>
        <button
          i18n
          matButton
          type="button"
          [attr.aria-pressed]="show() === 'open'"
          (click)="show.set('open')"
          class="word"
        >
          not looked at
        </button>
        <button
          i18n
          matButton
          type="button"
          [attr.aria-pressed]="show() === 'all'"
          (click)="show.set('all')"
          class="word"
        >
          all
        </button>
      </div>
      <div class="words" role="group" aria-label="Whose" i18n-aria-label>
        <button
          i18n
          matButton
          type="button"
          [attr.aria-pressed]="whose() === 'mine'"
          (click)="whose.set('mine')"
          class="word"
        >
          mine
        </button>
        <button
          i18n
          matButton
          type="button"
          [attr.aria-pressed]="whose() === 'all'"
          (click)="whose.set('all')"
          class="word"
        >
          everyone’s
        </button>
      </div>
    </div>
    @if (list.value(); as it) {
      @if (it.rows.length === 0) {
        <kettle-empty i18n title="No stirring" i18n-title>
          Whoever opens, follows a link, answers or calls back is shown here at once.
        </kettle-empty>
      } @else {
        <ul aria-label="Stirrings" i18n-aria-label>
          @for (row of it.rows; track row.id) {
            <li [class.chosen]="row.id === chosen()?.id" [class.handled]="row.isHandled">
              <mat-icon [svgIcon]="icons[row.kind]" aria-hidden="true" />
              <span>
                @if (row.contactId) {
                  <a [routerLink]="['/people', row.contactId]">
                    <b>{{ row.contactName }}</b>
                  </a>
                  <span class="soft">{{ row.companyName }}</span>
                } @else {
                  <kettle-person-picker
                    small
                    label="Whose it was"
                    i18n-label
                    placeholder="Whose was it?"
                    i18n-placeholder
                    [isRepeated]="true"
                    (pickedRow)="file(row, $event)"
                  />
                }
                <span class="what">
                  {{ row.words }}
                  @if (row.times > 1) {
                    <span class="soft">{{ row.times | count: texts.times }}</span>
                  }
                </span>
              </span>
              <span class="soft">{{ row.at | moment }}</span>
              <span class="acts">
                @if (row.contactId) {
                  <button i18n matButton type="button" (click)="call(row)">call</button>
                  <button i18n matButton type="button" (click)="write(row)">write</button>
                  <button i18n matButton type="button" (click)="plan(row)">task</button>
                }
                <button matButton type="button" (click)="handle(row)">
                  {{ row.isHandled ? texts.lookAgain : texts.done }}
                </button>
              </span>
            </li>
          }
        </ul>
        <p i18n class="soft">
          <kbd>C</kbd>
          call
          <kbd>M</kbd>
          write
          <kbd>T</kbd>
          task
          <kbd>F</kbd>
          file
          <kbd>.</kbd>
          done
        </p>
      }
    } @else if (list.state().kind !== 'failed') {
      <kettle-waiting />
    }
    @if (list.state(); as state) {
      @if (state.kind === 'failed') {
        <kettle-failed [problem]="state.problem" (again)="list.again()" />
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-3);
    }
    .filters {
      display: flex;
      gap: var(--space-6);
      font-size: var(--text-small);
    }
    li {
      display: grid;
      grid-template-columns: 20px minmax(0, 1fr) auto auto;
      gap: var(--space-3);
      align-items: baseline;
      padding: 8px 6px;
      border-block-end: 1px solid var(--hairline);
    }
    kettle-person-picker {
      inline-size: 240px;
      margin-block-end: 3px;
    }
    .what {
      display: block;
    }
    a + .soft {
      margin-inline-start: 6px;
    }
    .chosen {
      background: var(--sheet);
      box-shadow: inset 3px 0 0 var(--link);
    }
    .handled .what {
      color: var(--text-soft);
    }
    @media (width < 700px) {
      li {
        grid-template-columns: 20px minmax(0, 1fr);
      }
      .acts {
        grid-column: 2;
      }
    }
  `,
})
export class StirringList {
  protected readonly texts = {
    times: $localize`time|times`,
    lookAgain: $localize`look again`,
    done: $localize`done`,
  };

  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);

  protected readonly icons = icons;
  protected readonly show = signal<'open' | 'all'>('open');
  protected readonly whose = signal<'mine' | 'all'>('mine');
  protected readonly at = signal<string | null>(null);
  protected readonly list = reading((query: { show: 'open' | 'all'; whose: 'mine' | 'all' }) =>
    this.api.call('listStirrings', { query }),
  );
  protected readonly rows = computed(() => this.list.value()?.rows ?? []);
  protected readonly chosen = computed(
    (): Stirring | null => this.rows().find(({ id }) => id === this.at()) ?? this.rows()[0] ?? null,
  );

  constructor() {
    effect(() => {
      const query = { show: this.show(), whose: this.whose() };
      untracked(() => this.list.read(query));
    });
    inject(ChangeStream)
      .of('stirring')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.list.again());
    const on = (act: (row: Stirring) => void) => () => {
      const row = this.chosen();
      if (row !== null) act(row);
    };
    const applies = () => this.chosen() !== null;
    inject(Keys).bind(
      { keys: 'ArrowDown', words: $localize`The next stirring`, act: () => this.step(1) },
      { keys: 'ArrowUp', words: $localize`The stirring before`, act: () => this.step(-1) },
      { keys: 'c', words: $localize`Call whoever stirred`, act: on((row) => this.call(row)), applies },
      { keys: 'm', words: $localize`Write to whoever stirred`, act: on((row) => this.write(row)), applies },
      {
        keys: 't',
        words: $localize`Plan a task about the stirring`,
        act: on((row) => void this.plan(row)),
        applies,
      },
      { keys: 'f', words: $localize`File the stirring with a person`, act: () => this.focusPicker() },
      { keys: '.', words: $localize`The stirring was looked at`, act: on((row) => this.handle(row)) },
    );
  }

  private step(by: number): void {
    const at = this.rows().findIndex(({ id }) => id === this.chosen()?.id);
    this.at.set(this.rows()[Math.max(0, Math.min(this.rows().length - 1, at + by))]?.id ?? null);
  }

  protected call(row: Stirring): void {
    if (row.contactId === null) return;
    this.handle(row, true);
    void this.router.navigate(['/walk'], { queryParams: { contact: row.contactId, by: 'call' } });
  }

  protected write(row: Stirring): void {
    if (row.contactId === null) return;
    openWrite(this.dialog, {
      channel: row.kind === 'text-in' ? 'text' : 'email',
      contactId: row.contactId,
      name: row.contactName,
      answers: row.kind === 'replied' ? (row.mailId ?? undefined) : undefined,
    }).subscribe((sent) => {
      if (sent !== undefined) this.handle(row, true);
    });
  }

  protected async plan(row: Stirring): Promise<void> {
    if (row.contactId === null) return;
    const { TaskDialog } = await import('../dossier/task-dialog');
    this.dialog
      .open(TaskDialog, { data: { contactId: row.contactId, dealId: null }, width: '460px' })
      .afterClosed()
      .subscribe((made) => {
        if (made) this.handle(row, true);
      });
  }

  /** From an unknown number: it is theirs from now on, with the number. */
  protected file(row: Stirring, person: { readonly id: string; readonly name: string }): void {
    const body = { version: row.version, contactId: person.id } as CallOf<'fileStirring'>['body'];
    const changeId = v7();
    this.api.call('fileStirring', { params: { id: row.id }, body }, changeId).subscribe({
      next: () => {
        this.list.again();
        this.undo.offer(
          $localize`Filed with ${person.name}; the number is known from now on.`,
          changeId,
          () => this.list.again(),
        );
      },
      error: (error: unknown) => {
        this.notices.problem(error);
        this.list.again();
      },
    });
  }

  private focusPicker(): void {
    const rows = [...this.host.nativeElement.querySelectorAll('li')];
    const at = this.rows().findIndex(({ id }) => id === this.chosen()?.id);
    rows[at]?.querySelector('input')?.focus();
  }

  protected handle(row: Stirring, isHandled = !row.isHandled): void {
    if (row.isHandled === isHandled) return;
    this.api
      .call('handleStirring', { params: { id: row.id }, body: { version: row.version, isHandled } })
      .subscribe({
        next: (now) => {
          this.list.again();
          if (isHandled) this.notices.say($localize`Looked at.`, () => this.handle(now, false));
        },
        error: (error: unknown) => {
          this.notices.problem(error);
          this.list.again();
        },
      });
  }
}
