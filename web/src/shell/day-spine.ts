import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  Injector,
  input,
  output,
  signal,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import type { Spine } from '@kettle/contract';
import { sayDate, sayHour } from '@kettle/core/time';
import { Api } from '../api/api';
import { reading } from '../api/reading';
import { KeyHint } from '../kit/key-hint';
import { Pick } from '../kit/pick';
import { ChangeStream } from '../services/change-stream';
import { CurrentUser } from '../services/current-user';
import { DraggedRow } from '../services/dragged-row';
import type { AppointmentActs } from '../features/calendar/index';
import { layOutDay, type DayLayout } from './day-layout';

type Gap = DayLayout['gaps'][number];

/** Today's hours along the left edge: appointments as blocks, promises, the free minutes between them, the line of now. */
@Component({
  selector: 'kettle-day-spine',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [KeyHint, Pick, MatButtonModule, MatIcon],
  templateUrl: './day-spine.html',
  styleUrl: './day-spine.scss',
})
export class DaySpine {
  protected readonly texts = {
    foldTheDayAway: $localize`Fold the day away`,
    showTheDay: $localize`Show the day`,
    minutesFreePutA: (minutes: string | number) =>
      $localize`${minutes}:minutes: minutes free: plan an appointment`,
  };

  private readonly api = inject(Api);
  private readonly injector = inject(Injector);
  private readonly user = inject(CurrentUser);
  private readonly dragged = inject(DraggedRow);
  /** The gap over which a row is held. */
  protected readonly over = signal<number | null>(null);
  readonly isOpen = input.required<boolean>();
  readonly fold = output();
  protected readonly sayHour = sayHour;

  private readonly day = reading((_: null) => this.api.call('spine'));
  protected readonly title = computed(() => sayDate(this.user.today(), this.user.today()));
  protected readonly layout = computed((): DayLayout | null => {
    const spine = this.day.value();
    return spine === null ? null : this.layOut(spine);
  });
  protected readonly freeMinutes = computed(
    () => this.layout()?.gaps.reduce((sum, gap) => sum + gap.minutes, 0) ?? 0,
  );

  constructor() {
    this.day.read(null);
    inject(ChangeStream)
      .mine('appointment', 'task')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.day.again());
  }

  protected async plan(startMinute: number, minutes: number): Promise<void> {
    const acts = await this.acts();
    await acts.plan({ on: this.user.today(), startMinute, minutes: Math.min(60, minutes) });
  }

  /** A row of the Round may be let go over free time. */
  protected overGap(event: DragEvent, gap: Gap): void {
    if (this.dragged.row() === null) return;
    event.preventDefault();
    this.over.set(gap.startMinute);
  }

  protected async dropOn(event: DragEvent, gap: Gap): Promise<void> {
    const row = this.dragged.row();
    this.over.set(null);
    if (row === null) return;
    event.preventDefault();
    const { top, height } = (event.currentTarget as HTMLElement).getBoundingClientRect();
    const share = height === 0 ? 0 : (event.clientY - top) / height;
    const { PlaceInDay, beginningIn } = await import('../features/calendar/index');
    await this.injector.get(PlaceInDay).place(row, beginningIn(gap, share, row.minutes));
  }

  protected async openAppointment(id: string): Promise<void> {
    const acts = await this.acts();
    await acts.open(id);
  }

  /** They come with the first press, not with the frame. */
  private async acts(): Promise<AppointmentActs> {
    const { AppointmentActs: Acts } = await import('../features/calendar/index');
    return this.injector.get(Acts);
  }

  private layOut(spine: Spine): DayLayout {
    return layOutDay(spine, this.user.now(), (at) => this.user.minuteOf(at));
  }
}
