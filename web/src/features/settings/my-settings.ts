import { LongChoiceField } from '../../kit/long-choice-field';
import { countryOptions, zoneOptions } from '../../kit/places';
import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { FormArray, FormGroup } from '@angular/forms';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { Person } from '@kettle/contract';
import { readTypedMinute, plainTime } from '@kettle/core/time';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { field, pageFormParts, RecordForm, required } from '../../kit/form';
import { TimeField } from '../../kit/time-field';
import { CurrentUser } from '../../services/current-user';
import { Undo } from '../../services/undo';

const weekdays = [
  $localize`Mon`,
  $localize`Tue`,
  $localize`Wed`,
  $localize`Thu`,
  $localize`Fri`,
  $localize`Sat`,
  $localize`Sun`,
];

/** My working hours, zone and country. */
@Component({
  selector: 'kettle-my-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [LongChoiceField, TimeField, pageFormParts, MatCheckboxModule],
  templateUrl: './my-settings.html',
  styleUrl: './settings-part.scss',
})
export class MySettings {
  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  private readonly undo = inject(Undo);
  protected readonly weekdays = weekdays;
  protected readonly zones = zoneOptions(this.user.zone());
  protected readonly countries = countryOptions();
  protected readonly form = new RecordForm({
    weekdays: new FormArray(weekdays.map(() => field(false))),
    hours: new FormGroup({ start: required(''), end: required('') }),
    zone: required(''),
    country: required(''),
  });

  constructor() {
    this.fill();
  }

  /** What is typed is what holds. */
  private fill(): void {
    const me = this.user.person();
    if (me === null) return;
    this.form.patchValue({
      weekdays: weekdays.map((_, at) => me.hours.weekdays.includes(at + 1)),
      hours: { start: plainTime(me.hours.start), end: plainTime(me.hours.end) },
      zone: me.zone,
      country: me.country,
    });
  }

  protected save(): void {
    const me = this.user.person();
    if (me === null) return;
    const { weekdays: works, hours, zone, country } = this.form.getRawValue();
    const body = {
      version: me.version,
      zone,
      country,
      hours: {
        weekdays: works.flatMap((does, at) => (does ? [at + 1] : [])),
        start: readTypedMinute(hours.start) ?? 0,
        end: readTypedMinute(hours.end) ?? 0,
      },
    };
    const changeId = v7();
    this.form.send(
      body,
      (sent) => this.api.call('changeMyHours', { body: sent }, changeId),
      (person) => {
        this.enter(person);
        // Holidays are those of the country.
        this.readAgain();
        const words = $localize`Your hours are saved; the Round counts with them from now on.`;
        this.undo.offer(words, changeId, () => this.readAgain());
      },
    );
  }

  private readAgain(): void {
    this.api.call('session').subscribe((session) => {
      this.user.enter(session);
      this.fill();
    });
  }

  private enter(person: Person): void {
    const session = this.user.session();
    if (session !== null) this.user.enter({ ...session, person, now: this.user.now() });
  }
}
