import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { MomentPipe } from '../../kit/say.pipes';
import { Failed } from '../../kit/states';
import { ShownOnce } from '../../kit/shown-once';
import { Notices } from '../../services/notices';

/** The secret address under which other programs show my calendar: made, told once, withdrawn. */
@Component({
  selector: 'kettle-calendar-feed',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MomentPipe, Failed, ShownOnce],
  template: `
    <section aria-labelledby="calendar-feed">
      <h2 i18n id="calendar-feed">My calendar in other programs</h2>
      <p i18n class="soft">
        Your appointments and open tasks under a secret address, to be subscribed to on a phone or in another
        calendar. Whoever has the address can read them; nobody can change anything there.
      </p>
      @if (feed.state(); as state) {
        @if (state.kind === 'failed') {
          <kettle-failed [problem]="state.problem" (again)="feed.again()" />
        }
      }
      @if (url(); as made) {
        <kettle-shown-once label="The address" i18n-label [value]="made" (kept)="url.set(null)" />
      }
      @if (feed.value(); as known) {
        @if (known.feed; as made) {
          <p>
            <span i18n>There is an address, made {{ made.createdAt | moment }}.</span>
            @if (made.readAt; as at) {
              <span i18n class="soft">Last read {{ at | moment }}.</span>
            } @else {
              <span i18n class="soft">Nobody has read it yet.</span>
            }
          </p>
        }
        <p class="acts">
          <button matButton="outlined" type="button" (click)="make()">
            {{ known.feed ? texts.another : texts.first }}
          </button>
          @if (known.feed) {
            <button i18n matButton type="button" (click)="remove()">Withdraw it</button>
          }
          <a i18n matButton href="/api/calendar/file" [download]="'calendar.ics'">Take it along as a file</a>
        </p>
      }
    </section>
  `,
  styles: `
    section {
      display: grid;
      gap: var(--space-2);
      max-inline-size: 62ch;
      margin-block-start: var(--space-6);
    }
    .acts {
      display: flex;
      gap: var(--space-3);
    }
  `,
})
export class CalendarFeedPart {
  protected readonly texts = {
    first: $localize`Make an address`,
    another: $localize`Make another, and withdraw this one`,
  };

  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  protected readonly feed = reading((_: null) => this.api.call('calendarFeed'));
  protected readonly url = signal<string | null>(null);

  constructor() {
    this.feed.read(null);
  }

  protected make(): void {
    this.api.call('makeCalendarFeed').subscribe({
      next: ({ url }) => {
        this.url.set(url);
        this.feed.again();
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected remove(): void {
    this.api.call('removeCalendarFeed').subscribe({
      next: () => {
        this.url.set(null);
        this.feed.again();
        this.notices.say($localize`The address is withdrawn.`);
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
