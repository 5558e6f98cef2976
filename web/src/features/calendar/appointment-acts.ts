import { inject, Injectable } from '@angular/core';
import { Router } from '@angular/router';
import type { Appointment, AppointmentId, CalendarEntry } from '@kettle/contract';
import { sayDate } from '@kettle/core/time';
import { firstValueFrom } from 'rxjs';
import { Api } from '../../api/api';
import { LateDialog } from '../../kit/late-dialog';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import type { AppointmentAsked } from './appointment-dialog';

interface NewTime {
  readonly startsAt: string;
  readonly minutes: number;
}

/** What is done with appointments, wherever they stand; each act says so in one line with its undo, and `after` reads again. */
@Injectable({ providedIn: 'root' })
export class AppointmentActs {
  private readonly api = inject(Api);
  private readonly dialogs = inject(LateDialog);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly user = inject(CurrentUser);
  private readonly router = inject(Router);

  async plan(data: AppointmentAsked, after: () => void = () => undefined): Promise<void> {
    await this.dialog(data);
    after();
  }

  /** Opens one to be read, changed, logged or called off. */
  async open(id: string, after: () => void = () => undefined): Promise<void> {
    const appointment = await firstValueFrom(
      this.api.call('getAppointment', { params: { id: id as AppointmentId } }),
    ).catch((error: unknown) => {
      this.notices.problem(error);
      return null;
    });
    if (appointment === null) return;
    const act = await this.dialog({ appointment });
    if (act === 'log') this.log(appointment);
    if (act === 'call-off') await this.callOff(appointment);
    after();
  }

  /** Did it take place, what was done, what next: said where every step is logged. */
  log({ taskId }: Pick<Appointment, 'taskId'>): void {
    if (taskId !== null)
      void this.router.navigate(['/walk'], { queryParams: { key: `task:${taskId}`, alone: 'yes' } });
  }

  /** Moves one to another time, or gives it another length. */
  move(
    { kind, id, version }: CalendarEntry,
    to: NewTime,
    changeId: string,
  ): Promise<{ readonly version: number }> {
    return firstValueFrom<{ readonly version: number }>(
      kind === 'task'
        ? this.api.call('changeTask', { params: { id }, body: { version, ...this.asTask(to) } }, changeId)
        : this.api.call(
            'changeAppointment',
            { params: { id: id as AppointmentId }, body: { version, ...to } },
            changeId,
          ),
    );
  }

  tellMoved(
    { title, startsAt }: CalendarEntry,
    to: NewTime,
    changeIds: readonly string[],
    after: () => void,
  ): void {
    const when = this.sayWhen(to.startsAt);
    const words =
      to.startsAt === startsAt
        ? $localize`${title}:title: takes ${to.minutes}:minutes: minutes.`
        : $localize`Moved to ${when}:when:: ${title}:title:.`;
    this.undo.offer(words, changeIds, after);
  }

  async callOff(appointment: Appointment): Promise<void> {
    const { CallOffDialog } = await import('./call-off-dialog');
    const opened = await this.dialogs.open<unknown, Appointment, string>(CallOffDialog, {
      data: appointment,
      width: '480px',
    });
    const changeId = await firstValueFrom(opened.afterClosed());
    if (changeId) this.undo.offer($localize`Called off: ${appointment.title}:title:.`, changeId);
  }

  sayWhen(at: string): string {
    const [on, today] = [this.user.dateOf(at), this.user.today()];
    return `${sayDate(on, today)} ${this.user.timeOf(at)}`;
  }

  private asTask({ startsAt, minutes }: NewTime) {
    return { dueOn: this.user.dateOf(startsAt), promisedMinute: this.user.minuteOf(startsAt), minutes };
  }

  private async dialog(data: AppointmentAsked): Promise<'log' | 'call-off' | undefined> {
    const { AppointmentDialog } = await import('./appointment-dialog');
    const opened = await this.dialogs.open<
      unknown,
      AppointmentAsked,
      'log' | 'call-off' | { changeId: string; words: string }
    >(AppointmentDialog, { data, width: '560px' });
    const result = await firstValueFrom(opened.afterClosed());
    if (typeof result !== 'object') return result;
    this.undo.offer(result.words, result.changeId);
    return undefined;
  }
}
