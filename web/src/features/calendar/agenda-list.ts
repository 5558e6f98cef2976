import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import type { Calendar, CalendarEntry } from '@kettle/contract';
import { sayDay } from '@kettle/core/time';
import { Pick } from '../../kit/pick';
import { Empty } from '../../kit/states';
import { CurrentUser } from '../../services/current-user';
import { PeopleWords } from '../fields/index';
import { EntryWords } from './entry-words';

/** What is planned, day by day; days with nothing are left out. */
@Component({
  selector: 'kettle-agenda-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Pick, Empty],
  template: `
    @for (group of groups(); track group.day.on) {
      <section>
        <h2 [class.now]="group.day.on === user.today()">
          {{ sayDay(group.day.on, user.today()) }}
          @if (group.day.holiday; as holiday) {
            <span class="soft">· {{ holiday }}</span>
          }
          @for (note of group.day.notes; track $index) {
            <span class="soft">· {{ note }}</span>
          }
        </h2>
        <ul>
          @for (entry of group.entries; track entry.id) {
            <li>
              <button
                kit-pick
                class="entry"
                [class]="words.kindOf(entry)"
                [disabled]="words.isClosed(entry)"
                [attr.aria-label]="words.say(entry)"
                (click)="opened.emit(entry)"
              >
                <span class="time">{{ words.times(entry) }}</span>
                <span class="what">
                  <b>{{ words.title(entry) }}</b>
                  <span class="soft">{{ about(entry) }}</span>
                  @if (words.stateWords(entry); as state) {
                    <span class="now">{{ state }}</span>
                  }
                </span>
              </button>
            </li>
          }
        </ul>
      </section>
    } @empty {
      <kettle-empty title="Nothing at a time" i18n-title>
        <ng-container i18n>
          No appointment and no promised time on these days. A plans an appointment.
        </ng-container>
      </kettle-empty>
    }
  `,
  styleUrl: './agenda-list.scss',
})
export class AgendaList {
  protected readonly user = inject(CurrentUser);
  protected readonly words = inject(EntryWords);
  private readonly people = inject(PeopleWords);
  readonly days = input.required<Calendar['days']>();
  readonly entries = input.required<readonly CalendarEntry[]>();
  readonly isTeam = input(false);
  readonly opened = output<CalendarEntry>();

  protected readonly sayDay = sayDay;
  protected readonly groups = computed(() =>
    this.days()
      .map((day) => ({
        day,
        entries: this.entries().filter(({ startsAt }) => this.user.dateOf(startsAt) === day.on),
      }))
      .filter(({ day, entries }) => entries.length + day.notes.length > 0),
  );

  protected about(entry: CalendarEntry): string {
    const rest = this.words.under(entry).split(' · ').slice(1);
    return [...(this.isTeam() ? [this.people.colleague(entry.ownerId)] : []), ...rest].join(' · ');
  }
}
