import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { Person } from '@kettle/contract';
import { sayMinute } from '@kettle/core/time';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { Here } from '../../services/here';
import { Notices } from '../../services/notices';

const weekdays = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

/** My working hours and zone. */
@Component({
  selector: 'kettle-my-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule],
  templateUrl: './my-settings.html',
  styleUrl: './settings-part.scss',
})
export class MySettings {
  private readonly api = inject(Api);
  private readonly here = inject(Here);
  private readonly notices = inject(Notices);
  protected readonly weekdays = weekdays;
  protected readonly me = computed(() => this.here.person());
  protected readonly hoursProblem = signal<ApiProblem | null>(null);
  protected readonly days = new Set(this.here.person()?.hours.weekdays);
  protected start = sayMinute(this.here.person()?.hours.start ?? 540);
  protected end = sayMinute(this.here.person()?.hours.end ?? 1050);
  protected zone = this.here.person()?.zone ?? '';

  protected toggleDay(day: number, works: boolean): void {
    if (works) this.days.add(day);
    else this.days.delete(day);
  }

  protected saveHours(): void {
    const me = this.me();
    if (me === null) return;
    const minuteOf = (time: string) => {
      const [hour = 0, minute = 0] = time.split(':').map(Number);
      return hour * 60 + minute;
    };
    const hours = {
      weekdays: [...this.days].sort((a, b) => a - b),
      start: minuteOf(this.start),
      end: minuteOf(this.end),
    };
    this.api.call('changeMyHours', { body: { version: me.version, zone: this.zone, hours } }).subscribe({
      next: (person) => {
        this.enter(person);
        this.hoursProblem.set(null);
        this.notices.say('Your hours are saved; the Round counts with them from now on.');
      },
      error: (error: unknown) => this.hoursProblem.set(problemOf(error)),
    });
  }

  private enter(person: Person): void {
    const session = this.here.session();
    if (session !== null) this.here.enter({ ...session, person, now: this.here.now() });
  }
}
