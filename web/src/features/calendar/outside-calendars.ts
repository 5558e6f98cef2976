import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { CallOf, OutsideCalendar, OutsideQuestion, ReplyOf } from '@kettle/contract';
import { sayDate } from '@kettle/core/time';
import { type Observable, of, switchMap } from 'rxjs';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { field, type Option, pageFormParts, RecordForm, required } from '../../kit/form';
import { CountPipe, MomentPipe } from '../../kit/say.pipes';
import { Failed } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';

type Kind = OutsideCalendar['kind'];
type FoundCalendars = ReplyOf<'findOutsideCalendars'>;

/** My calendars elsewhere: added, how reading them went, where both sides differ, removed. */
@Component({
  selector: 'kettle-outside-calendars',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [pageFormParts, CountPipe, Failed, MatButtonModule, MatCheckboxModule, MomentPipe],
  template: `
    <section aria-labelledby="outside-calendars">
      <h2 i18n id="outside-calendars">Other calendars in mine</h2>
      <p i18n class="soft">
        What is in them takes its time in your day, and nobody else sees more than that you are busy. Whole
        days take time only where the calendar says so itself.
      </p>
      @if (read.state(); as state) {
        @if (state.kind === 'failed') {
          <kettle-failed [problem]="state.problem" (again)="read.again()" />
        }
      }
      <ul>
        @for (each of read.value()?.calendars ?? []; track each.id) {
          <li>
            <div class="line">
              <b>{{ each.name }}</b>
              <span class="soft">{{ each.kind === 'both-ways' ? texts.bothWays : texts.readOnly }}</span>
              <span class="grow"></span>
              <button
                matButton
                type="button"
                [attr.aria-label]="texts.readNow(each.name)"
                [disabled]="busy() === each.id"
                disabledInteractive
                (click)="readNow(each)"
              >
                {{ busy() === each.id ? texts.reading : texts.readIt }}
              </button>
              <button
                matButton
                type="button"
                [attr.aria-label]="texts.remove(each.name)"
                (click)="remove(each)"
              >
                {{ texts.removeIt }}
              </button>
            </div>
            <div class="line soft">
              <span class="address">{{ each.address }}</span>
            </div>
            @if (each.failure; as words) {
              <p class="now" role="status">
                {{ words }}
                <span i18n>Not read since {{ each.failingSince! | moment }}.</span>
              </p>
            } @else if (each.readAt; as at) {
              <p class="soft">
                <span i18n>Read {{ at | moment }}:</span>
                {{ each.events | count: texts.events }}
                @if (each.isCut) {
                  <span i18n>There is more in it than is read here.</span>
                }
              </p>
            }
            <mat-checkbox i18n [checked]="each.isBusy" (change)="takeTime(each, $event.checked)">
              Takes time of my day
            </mat-checkbox>
            @for (question of each.questions; track question.appointmentId) {
              <div class="question">
                <p>
                  <b>{{ question.ours.title }}</b>
                  @if (question.theirs; as theirs) {
                    <span i18n>Here {{ say(question.ours) }}.</span>
                    <span i18n>There {{ say(theirs) }}.</span>
                  } @else {
                    <span i18n>{{ say(question.ours) }} was deleted there.</span>
                  }
                </p>
                <button matButton="outlined" type="button" (click)="settle(each, question, 'ours')">
                  {{ question.theirs ? texts.keepOurs : texts.putBack }}
                </button>
                <button matButton="outlined" type="button" (click)="settle(each, question, 'theirs')">
                  {{ question.theirs ? texts.takeTheirs : texts.callOff }}
                </button>
              </div>
            }
          </li>
        } @empty {
          <li i18n class="soft">None yet.</li>
        }
      </ul>
      <kettle-page-form act="Add the calendar" i18n-act [form]="form" (save)="add()">
        <div class="form-grid">
          <kettle-choice-field
            label="What to do with it"
            i18n-label
            [formControl]="form.controls.kind"
            [options]="kinds"
          />
          <kettle-text-field label="What to call it" i18n-label [formControl]="form.controls.name" />
          <kettle-text-field
            class="wide"
            label="Its address"
            i18n-label
            type="url"
            [formControl]="form.controls.address"
            [hint]="form.controls.kind.value === 'both-ways' ? texts.davHint : texts.addressHint"
          />
          @if (form.controls.kind.value === 'both-ways') {
            <kettle-text-field label="Your name there" i18n-label [formControl]="form.controls.login" />
            <kettle-text-field
              label="Your password there"
              i18n-label
              type="password"
              [formControl]="form.controls.password"
            />
            @if (found().length > 0) {
              <kettle-choice-field
                label="Which of them"
                i18n-label
                [formControl]="form.controls.chosen"
                [options]="found()"
              />
            }
          }
        </div>
      </kettle-page-form>
    </section>
  `,
  styles: `
    section {
      display: grid;
      gap: var(--space-2);
      max-inline-size: 640px;
    }
    ul {
      margin: 0;
      padding: 0;
      list-style: none;
    }
    li {
      padding-block: var(--space-2);
      border-block-end: 1px solid var(--hairline);
    }
    li p {
      margin: 0;
    }
    .line {
      display: flex;
      flex-wrap: wrap;
      align-items: baseline;
      gap: var(--space-3);
    }
    .address {
      overflow-wrap: anywhere;
    }
    .question {
      display: flex;
      flex-wrap: wrap;
      align-items: baseline;
      gap: var(--space-2);
      margin-block-start: var(--space-2);
    }
    .question p {
      display: flex;
      flex-wrap: wrap;
      flex: 1 1 260px;
      gap: 0 var(--space-2);
    }
    .form-grid {
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
      gap: var(--space-3);
      inline-size: 100%;
    }
    .wide {
      grid-column: 1 / -1;
    }
  `,
})
export class OutsideCalendarsPart {
  protected readonly texts = {
    bothWays: $localize`kept in step both ways`,
    readOnly: $localize`read here`,
    readIt: $localize`read now`,
    reading: $localize`reading …`,
    removeIt: $localize`remove`,
    readNow: (name: string) => $localize`Read ${name}:name: now`,
    remove: (name: string) => $localize`Remove ${name}:name:`,
    events: $localize`event|events`,
    keepOurs: $localize`Ours counts`,
    takeTheirs: $localize`Theirs counts`,
    putBack: $localize`Put it back there`,
    callOff: $localize`Call it off here`,
    addressHint: $localize`The address under which the other program publishes it: https://… or webcal://…`,
    davHint: $localize`The address of its server, or of the calendar itself`,
  };

  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly user = inject(CurrentUser);
  protected readonly read = reading((_: null) => this.api.call('outsideCalendars'));
  /** The one that is being read just now. */
  protected readonly busy = signal<string | null>(null);
  /** The calendars of a server that has several. */
  protected readonly found = signal<Option<string>[]>([]);
  protected readonly kinds: Option<Kind>[] = [
    { value: 'address', words: $localize`Read it here` },
    { value: 'both-ways', words: $localize`Keep mine in step with it` },
  ];
  protected readonly form = new RecordForm({
    kind: field<Kind>('address'),
    name: required(''),
    address: required(''),
    login: field(''),
    password: field(''),
    chosen: field(''),
  });

  constructor() {
    this.read.read(null);
    inject(ChangeStream)
      .mine('appointment')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.read.again());
    const { address, login, kind } = this.form.controls;
    for (const control of [address, login, kind])
      control.valueChanges.pipe(takeUntilDestroyed()).subscribe(() => this.found.set([]));
  }

  protected say({ startsAt, endsAt, place }: OutsideQuestion['ours']): string {
    const on = sayDate(this.user.dateOf(startsAt), this.user.today());
    const times = `${this.user.timeOf(startsAt)}–${this.user.timeOf(endsAt)}`;
    return [on, times, place].filter(Boolean).join(' ');
  }

  /** Of a server that has one calendar it is that one; of several one is chosen first. */
  protected add(): void {
    const { kind, name, address, login, password, chosen } = this.form.getRawValue();
    const changeId = v7();
    const opens = kind === 'both-ways' ? { login, password } : {};
    const put = (at: string): Observable<OutsideCalendar> => {
      const body = {
        kind,
        name,
        address: at,
        isBusy: true,
        ...opens,
      } as CallOf<'addOutsideCalendar'>['body'];
      return this.api.call('addOutsideCalendar', { body }, changeId);
    };
    const isFound = kind === 'address' || (this.found().length > 0 && chosen !== '');
    this.form.send(
      { address, login, password },
      (body): Observable<OutsideCalendar | FoundCalendars> =>
        isFound
          ? put(chosen || address)
          : this.api
              .call('findOutsideCalendars', { body })
              .pipe(
                switchMap((found) =>
                  found.calendars.length === 1 ? put(found.calendars[0]!.address) : of(found),
                ),
              ),
      (reply) => {
        if ('calendars' in reply) return this.choose(reply);
        this.found.set([]);
        this.form.reset({ kind });
        this.read.again();
        this.offer($localize`${reply.name}:name: is in your calendar.`, changeId);
      },
    );
  }

  private choose({ calendars }: FoundCalendars): void {
    this.found.set(calendars.map((each) => ({ value: each.address, words: each.name })));
    this.form.controls.chosen.setValue(calendars[0]?.address ?? '');
  }

  protected readNow({ id }: OutsideCalendar): void {
    this.busy.set(id);
    this.carryOut(this.api.call('readOutsideCalendar', { params: { id } }));
  }

  protected takeTime({ id, name }: OutsideCalendar, isBusy: boolean): void {
    const changeId = v7();
    const words = isBusy
      ? $localize`${name}:name: takes time of your day.`
      : $localize`${name}:name: takes no time of your day.`;
    this.carryOut(
      this.api.call('changeOutsideCalendar', { params: { id }, body: { name, isBusy } }, changeId),
      () => this.offer(words, changeId),
    );
  }

  protected remove({ id, name }: OutsideCalendar): void {
    const changeId = v7();
    this.carryOut(this.api.call('removeOutsideCalendar', { params: { id } }, changeId), () =>
      this.offer($localize`${name}:name: is no longer in your calendar.`, changeId),
    );
  }

  protected settle(
    { id }: OutsideCalendar,
    { appointmentId, ours }: OutsideQuestion,
    keep: 'ours' | 'theirs',
  ): void {
    const changeId = v7();
    const body = { appointmentId, keep };
    this.carryOut(this.api.call('settleOutsideQuestion', { params: { id }, body }, changeId), () => {
      if (keep === 'theirs') this.offer($localize`${ours.title}:title: is as it is there.`, changeId);
      else this.notices.say($localize`${ours.title}:title: is written there as it is here.`);
    });
  }

  private offer(words: string, changeId: string): void {
    this.undo.offer(words, changeId, () => this.read.again());
  }

  private carryOut(asked: Observable<unknown>, then?: () => void): void {
    asked.subscribe({
      next: () => {
        this.busy.set(null);
        this.read.again();
        then?.();
      },
      error: (error: unknown) => {
        this.busy.set(null);
        this.read.again();
        this.notices.problem(error);
      },
    });
  }
}
