import { ChangeDetectionStrategy, ChangeDetectorRef, Component, computed, inject } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { Person } from '@kettle/contract';
import { sayMinute } from '@kettle/core/time';
import { Api } from '../../api/api';
import { CurrentUser } from '../../services/current-user';
import { Undo } from '../../services/undo';
import { v7 } from 'uuid';
import { Conflicts, Submission } from '../../kit/conflicts';
import { fieldParts } from '../../kit/field';
import { TimeField } from '../../kit/time-field';

const weekdays = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

/** My working hours and zone. */
@Component({
  selector: 'kettle-my-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [TimeField, fieldParts, MatCheckboxModule, MatButtonModule, Conflicts, FormsModule],
  templateUrl: './my-settings.html',
  styleUrl: './settings-part.scss',
})
export class MySettings {
  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  private readonly undo = inject(Undo);
  private readonly changes = inject(ChangeDetectorRef);
  protected readonly weekdays = weekdays;
  protected readonly me = computed(() => this.user.person());
  protected readonly saving = new Submission();
  protected readonly days = new Set<number>();
  protected start = '';
  protected end = '';
  protected zone = '';

  constructor() {
    this.fill();
  }

  /** What is typed is what holds. */
  private fill(): void {
    const me = this.user.person();
    this.days.clear();
    for (const day of me?.hours.weekdays ?? []) this.days.add(day);
    this.start = sayMinute(me?.hours.start ?? 540);
    this.end = sayMinute(me?.hours.end ?? 1050);
    this.zone = me?.zone ?? '';
  }

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
    const body = this.saving.bodyOf({ version: me.version, zone: this.zone, hours });
    const changeId = v7();
    this.api.call('changeMyHours', { body }, changeId).subscribe({
      next: (person) => {
        this.enter(person);
        this.saving.clear();
        this.undo.offer('Your hours are saved; the Round counts with them from now on.', changeId, () =>
          this.readAgain(),
        );
      },
      error: this.saving.refuse,
    });
  }

  private readAgain(): void {
    this.api.call('session').subscribe((session) => {
      this.user.enter(session);
      this.fill();
      this.changes.markForCheck();
    });
  }

  private enter(person: Person): void {
    const session = this.user.session();
    if (session !== null) this.user.enter({ ...session, person, now: this.user.now() });
  }
}
