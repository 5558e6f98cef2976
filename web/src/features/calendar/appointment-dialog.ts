import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { takeUntilDestroyed, toSignal } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { Appointment, ContactId, DealId, FreeTimes, UserId } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import {
  addMinutes,
  localMoment,
  minutesBetween,
  plainTime,
  readTypedMinute,
  sayDate,
} from '@kettle/core/time';
import { catchError, debounceTime, filter, map, of, startWith, switchMap } from 'rxjs';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { DayField } from '../../kit/day-field';
import { field, formParts, type Option, RecordForm, required } from '../../kit/form';
import { TimeField } from '../../kit/time-field';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { DealPicker } from '../deals/index';
import { PeopleWords, PersonPicker } from '../fields/index';

/** An appointment to change, or what is known of one that is planned. */
export interface AppointmentAsked {
  readonly appointment?: Appointment;
  readonly contactId?: string | null;
  readonly dealId?: string | null;
  readonly dealName?: string;
  readonly channel?: 'meeting' | 'visit';
  readonly on?: string;
  /** Minute of the reader's day. */
  readonly startMinute?: number;
  readonly minutes?: number;
  readonly ownerId?: string;
}

const reminders: readonly Option<number | null>[] = [
  { value: null, words: $localize`none` },
  { value: 0, words: $localize`when it begins` },
  { value: 15, words: $localize`15 minutes before` },
  { value: 60, words: $localize`an hour before` },
  { value: 1440, words: $localize`a day before` },
];

const answerWords = {
  none: $localize`no answer yet`,
  accepted: $localize`accepted`,
  declined: $localize`declined`,
  tentative: $localize`may come`,
} as const;

/** Plans an appointment or changes one; what is in its way is said while it is written, before it is saved. */
@Component({
  selector: 'kettle-appointment-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [formParts, DayField, TimeField, DealPicker, PersonPicker, MatButtonModule, MatCheckboxModule],
  templateUrl: './appointment-dialog.html',
  styleUrl: './appointment-dialog.scss',
})
export class AppointmentDialog {
  protected readonly texts = {
    plan: $localize`Plan an appointment`,
    change: $localize`Change the appointment`,
    asIs: $localize`Appointment`,
    save: $localize`Save`,
    act: $localize`Plan`,
    until: (time: string) => $localize`until ${time}:time:`,
    offer: (name: string) => $localize`Let ${name}:name: choose among the first three, by mail`,
    takeTime: (when: string) => $localize`Take ${when}:when:`,
    remove: (name: string) => $localize`Remove ${name}:name:`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<AppointmentDialog>);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  protected readonly user = inject(CurrentUser);
  protected readonly people = inject(PeopleWords);
  protected readonly asked = inject<AppointmentAsked>(MAT_DIALOG_DATA);
  protected readonly before = this.asked.appointment ?? null;
  protected readonly reminders = reminders;
  protected readonly answers = answerWords;
  protected readonly channels: readonly Option<'meeting' | 'visit'>[] = (['meeting', 'visit'] as const).map(
    (value) => ({
      value,
      words: channelLabel[value],
    }),
  );
  private readonly me: string = this.user.person()?.id ?? '';
  /** Only one that is still planned, and may be changed. */
  protected readonly isOpen =
    this.before === null || (this.before.state === 'planned' && this.user.mayChange(this.before.ownerId));
  /** It is over, and nobody said yet whether it took place. */
  protected readonly asksWhetherHeld =
    this.isOpen &&
    this.before !== null &&
    this.before.taskId !== null &&
    this.before.endsAt <= this.user.now();
  protected readonly title =
    this.before === null ? this.texts.plan : this.isOpen ? this.texts.change : this.texts.asIs;

  protected readonly form = new RecordForm({
    title: required(this.before?.title ?? ''),
    contactId: field<string>(this.before?.contactId ?? this.asked.contactId ?? ''),
    dealId: field<string>(this.before?.dealId ?? this.asked.dealId ?? ''),
    channel: field<'meeting' | 'visit'>(this.before?.channel ?? this.asked.channel ?? 'meeting'),
    dueOn: required(
      this.before ? this.user.dateOf(this.before.startsAt) : (this.asked.on ?? this.user.nextWorkday()),
    ),
    start: required(
      plainTime(this.before ? this.user.minuteOf(this.before.startsAt) : (this.asked.startMinute ?? 600)),
    ),
    minutes: required(
      this.before
        ? minutesBetween(this.before.startsAt, this.before.endsAt)
        : (this.asked.minutes ?? this.user.minutes()[this.asked.channel ?? 'meeting']),
    ),
    place: field(this.before?.place ?? ''),
    travelMinutes: required(this.before?.travelMinutes ?? 0),
    travelAfterMinutes: required(this.before?.travelAfterMinutes ?? 0),
    ownerId: field<string>(this.before?.ownerId ?? this.asked.ownerId ?? this.me),
    remindMinutes: field(this.before?.remindMinutes ?? null),
    note: field(this.before?.note ?? ''),
    invites: field(this.before?.invites ?? false),
  });
  protected readonly guests = signal<readonly string[]>(
    this.before?.guests.map(({ contactId }) => contactId) ?? [],
  );
  protected readonly colleagues = signal<ReadonlySet<string>>(
    new Set(this.before?.colleagues.map(({ userId }) => userId)),
  );
  private readonly typed = toSignal(this.form.valueChanges.pipe(map(() => this.form.getRawValue())), {
    initialValue: this.form.getRawValue(),
  });
  protected readonly isWithCustomer = computed(
    () => this.typed().contactId !== '' || this.typed().dealId !== '',
  );
  protected readonly owners = computed(() =>
    this.people
      .colleagues()
      .map(({ id, name }) => ({ value: id as string, words: id === this.me ? $localize`me` : name })),
  );
  protected readonly others = computed(() =>
    this.people.colleagues().filter(({ id }) => id !== this.typed().ownerId),
  );
  /** The person of the appointment: their company's deals and address are offered. */
  private readonly contact = toSignal(
    this.form.controls.contactId.valueChanges.pipe(
      startWith(this.form.controls.contactId.value),
      switchMap((id) =>
        id === ''
          ? of(null)
          : this.api.call('getContact', { params: { id: id as ContactId } }).pipe(catchError(() => of(null))),
      ),
    ),
    { initialValue: null },
  );
  protected readonly contactName = computed(() => this.contact()?.name ?? '');
  protected readonly isOffering = signal(false);
  /** Whether they can be asked which of several times suits: of an appointment that is planned now. */
  protected readonly mayOffer = computed(() => this.before === null && Boolean(this.contact()?.email));
  protected readonly company = computed(() => {
    const contact = this.contact();
    return contact?.companyId ? { id: contact.companyId as string, name: contact.companyName ?? '' } : null;
  });
  private readonly companyInFull = signal<{ readonly id: string; readonly address: string } | null>(null);
  /** Where their company is, to be taken over by one press. */
  protected readonly address = computed(() => {
    const known = this.companyInFull();
    return known?.id === this.company()?.id && known?.address !== this.typed().place
      ? (known?.address ?? '')
      : '';
  });
  protected readonly deal = computed(() =>
    this.before?.dealId
      ? { id: this.before.dealId as string, name: this.before.dealName ?? '' }
      : this.asked.dealId
        ? { id: this.asked.dealId, name: this.asked.dealName ?? '' }
        : null,
  );
  /** The time that is thought of; null while it cannot be read. */
  private readonly time = computed(() => {
    const { dueOn, start, minutes, travelMinutes, travelAfterMinutes, ownerId, contactId } = this.typed();
    const minute = readTypedMinute(start);
    if (dueOn === '' || minute === null || !(minutes >= 5)) return null;
    return {
      startsAt: localMoment(dueOn, minute, this.user.zone()),
      minutes,
      travelMinutes: travelMinutes || 0,
      travelAfterMinutes: travelAfterMinutes || 0,
      ownerId: ownerId as UserId,
      colleagueIds: [...this.colleagues()] as UserId[],
      contactIds: [contactId, ...this.guests()].filter((id) => id !== '') as ContactId[],
      exceptId: this.before?.id ?? null,
    };
  });
  protected readonly ends = computed(() => {
    const time = this.time();
    return time === null ? '' : this.user.timeOf(addMinutes(time.startsAt, time.minutes));
  });
  /** Times that suit everybody, once they were asked for. */
  protected readonly found = signal<FreeTimes['times'] | null>(null);
  protected readonly warnings = signal<readonly { readonly kind: string; readonly words: string }[]>([]);

  constructor() {
    this.people.wake();
    const { channel, minutes } = this.form.controls;
    channel.valueChanges.pipe(takeUntilDestroyed()).subscribe((by) => {
      if (this.before === null && !minutes.dirty && this.asked.minutes === undefined)
        minutes.setValue(this.user.minutes()[by]);
    });
    if (!this.isOpen) this.form.disable();
    this.warn();
    effect(() => {
      const company = this.company();
      if (company !== null) this.readAddress(company.id);
    });
  }

  private warn(): void {
    if (!this.isOpen) return;
    // What is typed on is asked about once the hands rest.
    this.form.valueChanges
      .pipe(
        startWith(null),
        debounceTime(250),
        map(() => this.time()),
        filter((time) => time !== null),
        switchMap((body) =>
          this.api.call('appointmentWarnings', { body }).pipe(
            map((reply) => reply.warnings),
            catchError(() => of([])),
          ),
        ),
        takeUntilDestroyed(),
      )
      .subscribe((warnings) => this.warnings.set(warnings));
  }

  private readAddress(id: string): void {
    this.api.call('getCompany', { params: { id } }).subscribe({
      next: ({ company: { sites } }) => {
        const [main] = sites;
        const address = [main?.street, main?.postcode, main?.city].filter(Boolean).join(', ');
        this.companyInFull.set({ id, address });
      },
      error: () => undefined,
    });
  }

  protected takeAddress(): void {
    this.form.controls.place.setValue(this.address());
    this.form.controls.place.markAsDirty();
  }

  protected addGuest(id: string): void {
    if (id === '' || id === this.form.controls.contactId.value) return;
    this.guests.update((guests) => [...new Set([...guests, id])]);
    this.touch();
  }

  protected dropGuest(id: string): void {
    this.guests.update((guests) => guests.filter((each) => each !== id));
    this.touch();
  }

  protected turnColleague(id: string): void {
    this.colleagues.update(
      (known) => new Set(known.has(id) ? [...known].filter((each) => each !== id) : [...known, id]),
    );
    this.touch();
  }

  /** What stands beside the controls changed: the dialog asks before it is left, and what is in the way is asked anew. */
  private touch(): void {
    this.form.markAsDirty();
    this.form.updateValueAndValidity();
  }

  protected findTimes(): void {
    const time = this.time();
    const from = this.form.controls.dueOn.value;
    if (time === null || from === '') return void this.form.isFilledIn();
    const { startsAt: _, exceptId: __, ...body } = time;
    this.api.call('freeTimes', { body: { ...body, from } }).subscribe({
      next: ({ times }) => this.found.set(times),
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  /** A customer with an address chooses by themselves; what they choose is agreed. */
  protected offer(): void {
    const { title, contactId, dealId, channel, place, minutes } = this.form.getRawValue();
    if (!this.form.isFilledIn()) return;
    const times = (this.found() ?? []).slice(0, 3).map(({ startsAt }) => startsAt);
    const body = {
      ...{ title, channel, minutes, times, place: place.trim() || null },
      ...{ contactId: contactId as ContactId, dealId: dealId === '' ? null : (dealId as DealId) },
    };
    const changeId = v7();
    this.isOffering.set(true);
    this.api.call('offerTimes', { body }, changeId).subscribe({
      next: () => {
        this.undo.offer($localize`${this.contactName()}:name: is asked which of the three suits.`, changeId);
        this.dialog.close();
      },
      error: (error: unknown) => {
        this.isOffering.set(false);
        this.notices.problem(error);
      },
    });
  }

  protected takeTime(startsAt: string): void {
    const { dueOn, start } = this.form.controls;
    dueOn.setValue(this.user.dateOf(startsAt));
    start.setValue(plainTime(this.user.minuteOf(startsAt)));
    this.form.markAsDirty();
    this.found.set(null);
  }

  /** With what the clock shows for those who are elsewhere. */
  protected sayTime({ startsAt, elsewhere }: FreeTimes['times'][number]): string {
    return [this.sayWhen({ startsAt }), ...elsewhere].join(', ');
  }

  /** The time they would like instead, into the form: it is saved like any other. */
  protected takeCounter({ startsAt, endsAt }: { readonly startsAt: string; readonly endsAt: string }): void {
    const { dueOn, start, minutes } = this.form.controls;
    dueOn.setValue(this.user.dateOf(startsAt));
    start.setValue(plainTime(this.user.minuteOf(startsAt)));
    minutes.setValue(minutesBetween(startsAt, endsAt));
    this.form.markAsDirty();
  }

  protected close(act: 'log' | 'call-off'): void {
    this.dialog.close(act);
  }

  protected save(): void {
    const time = this.time();
    if (!this.form.isFilledIn() || time === null) return;
    const {
      title,
      contactId,
      dealId,
      channel,
      place,
      travelMinutes,
      travelAfterMinutes,
      ownerId,
      remindMinutes,
      note,
      invites,
    } = this.form.getRawValue();
    const body = {
      title,
      startsAt: time.startsAt,
      minutes: time.minutes,
      place: place.trim() || null,
      travelMinutes,
      travelAfterMinutes,
      note: note.trim() || null,
      channel: this.isWithCustomer() ? channel : null,
      contactId: (contactId || null) as ContactId | null,
      dealId: (dealId || null) as DealId | null,
      guestIds: [...this.guests()] as ContactId[],
      colleagueIds: [...this.colleagues()] as UserId[],
      ownerId: ownerId as UserId,
      remindMinutes,
      invites: this.isWithCustomer() && invites,
    };
    const changeId = v7();
    const { before } = this;
    if (before === null)
      this.form.send(
        body,
        (sent) => this.api.call('planAppointment', { body: sent }, changeId),
        (made) =>
          this.dialog.close({
            changeId,
            words: $localize`Planned: ${made.title}:title:, ${this.sayWhen(made)}:when:.`,
          }),
      );
    else
      this.form.send(
        { ...body, version: before.version },
        (sent) => this.api.call('changeAppointment', { params: { id: before.id }, body: sent }, changeId),
        (made) =>
          this.dialog.close({
            changeId,
            words: $localize`Saved: ${made.title}:title:, ${this.sayWhen(made)}:when:.`,
          }),
      );
  }

  protected sayWhen({ startsAt }: { readonly startsAt: string }): string {
    return `${sayDate(this.user.dateOf(startsAt), this.user.today())} ${this.user.timeOf(startsAt)}`;
  }
}
