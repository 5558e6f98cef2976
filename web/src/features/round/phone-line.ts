import { PhonePipe } from '../../kit/phone.pipe';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import type { CallOf, PhoneCall } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { ChangeStream } from '../../services/change-stream';
import { CurrentUser } from '../../services/current-user';

const results: Readonly<Record<NonNullable<PhoneCall['result']>, string>> = {
  answered: 'spoken',
  'no-answer': $localize`no answer`,
  busy: 'busy',
  voicemail: 'voicemail',
  'wrong-number': $localize`wrong number`,
  failed: $localize`the line failed`,
};

/** Dials a number and follows the call; how it ended and how long it was comes out, for the log. */
@Component({
  selector: 'kettle-phone-line',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [PhonePipe, MatButtonModule, MatIcon],
  template: `
    @if (call.value(); as it) {
      <span class="line" role="status">
        <mat-icon svgIcon="call" aria-hidden="true" />
        @switch (it.state) {
          @case ('dialling') {
            <ng-container i18n>dialling {{ it.number | phone }} …</ng-container>
          }
          @case ('ringing') {
            <ng-container i18n>ringing {{ it.number | phone }} …</ng-container>
          }
          @case ('answered') {
            <b i18n>on the line</b>
            {{ since() }}
          }
          @default {
            {{ resultOf(it) }}
          }
        }
      </span>
      @if (isOn()) {
        <button i18n matButton="outlined" type="button" (click)="hangUp()">Hang up</button>
      } @else {
        <button i18n matButton="outlined" type="button" (click)="dial()">Dial again</button>
      }
    } @else {
      <button
        i18n
        matButton="outlined"
        type="button"
        [class.main]="isMain()"
        (click)="dial()"
        [disabled]="isBusy()"
      >
        <mat-icon svgIcon="call" />
        Call {{ number() | phone }}
        @if (isMain()) {
          <kbd>⏎</kbd>
        }
      </button>
    }
    @if (problem(); as wrong) {
      <span class="wrong" role="alert">
        {{ wrong.message }}
        <a i18n [href]="'tel:' + number()">Dial with this machine</a>
      </span>
    }
  `,
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: var(--space-3);
    }
    .line mat-icon {
      margin-inline-end: 6px;
    }
  `,
})
export class PhoneLine {
  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  readonly contactId = input.required<string>();
  readonly number = input.required<string>();
  readonly isMain = input(false);
  /** The call is over: what the line tells of it. */
  readonly over = output<PhoneCall>();

  private readonly id = signal<string | null>(null);
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly isBusy = signal(false);
  protected readonly call = reading((id: string) => this.api.call('getCall', { params: { id } }));
  protected readonly isOn = computed(() => {
    const state = this.call.value()?.state;
    return state === 'dialling' || state === 'ringing' || state === 'answered';
  });
  protected readonly since = computed(() => {
    const from = this.call.value()?.answeredAt;
    return from ? $localize`since ${this.user.timeOf(from)}` : '';
  });

  constructor() {
    let told: string | null = null;
    effect(() => {
      const call = this.call.value();
      if (call?.state !== 'ended' || told === call.id) return;
      told = call.id;
      untracked(() => this.over.emit(call));
    });
    inject(ChangeStream)
      .mine('call')
      .pipe(takeUntilDestroyed())
      .subscribe(() => {
        const id = this.id();
        if (id !== null) this.call.read(id);
      });
  }

  /** Dials unless a call is on already. */
  dial(): void {
    if (this.isOn() || this.isBusy()) return;
    const id = v7();
    const body = { id, contactId: this.contactId(), number: this.number() } as CallOf<'dial'>['body'];
    this.isBusy.set(true);
    this.problem.set(null);
    this.api.call('dial', { body }).subscribe({
      next: (call) => {
        this.isBusy.set(false);
        this.id.set(id);
        this.call.put(call);
        this.call.read(id);
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }

  protected hangUp(): void {
    const id = this.id();
    if (id === null) return;
    this.api.call('hangUp', { params: { id } }).subscribe({
      next: () => this.call.read(id),
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }

  protected resultOf({ result, seconds }: PhoneCall): string {
    if (result === null) return 'ended';
    return result === 'answered' && seconds !== null
      ? $localize`spoken for ${length(seconds)}`
      : results[result];
  }
}

const length = (seconds: number) =>
  `${Math.floor(seconds / 60)}:${String(Math.round(seconds) % 60).padStart(2, '0')}`;
