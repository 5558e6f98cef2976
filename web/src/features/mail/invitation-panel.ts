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
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { CallOf, Mail } from '@kettle/contract';
import { minutesBetween, sayDate } from '@kettle/core/time';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { TextField } from '../../kit/text-field';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';

type Answer = NonNullable<CallOf<'answerReceived'>['body']>['answer'];

/** The invitation that a mail brings: when and where, what is in its way, and the answers to it. */
@Component({
  selector: 'kettle-invitation-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, RouterLink, TextField],
  template: `
    @if (mail().invitation; as it) {
      <section aria-label="Invitation" i18n-aria-label>
        <p>
          <b i18n>Invitation.</b>
          {{ when() }}
          @if (it.place; as place) {
            <span class="soft">{{ place }}</span>
          }
        </p>
        @if (it.isWithdrawn) {
          <p i18n class="now">It was called off.</p>
        } @else if (it.isMoved) {
          <p i18n class="now">It was moved to this time after you answered. Answer once more.</p>
        } @else if (it.answer !== 'none') {
          <p class="soft">{{ texts.said[it.answer] }}</p>
        }
        @if (it.repeats) {
          <p i18n class="soft">It repeats. Only this first one is put into your calendar here.</p>
        }
        @for (each of asks() ? (warnings.value()?.warnings ?? []) : []; track $index) {
          <p class="now">{{ each.words }}</p>
        }
        @if (it.appointmentId; as id) {
          <p>
            <a i18n routerLink="/calendar" [queryParams]="{ on: on(), appointment: id }">In your calendar</a>
          </p>
        }
        @if (!it.isWithdrawn && !isOver()) {
          @if (mail().contactId === null) {
            <p i18n class="soft">File the mail first: then it can be answered.</p>
          } @else {
            <kettle-text-field label="A word with the answer" i18n-label [(value)]="words" />
            <div class="acts">
              @for (each of answers; track each) {
                <button
                  [matButton]="each === 'accepted' && it.answer === 'none' ? 'filled' : 'outlined'"
                  type="button"
                  [attr.aria-pressed]="it.answer === each && !it.isMoved"
                  [disabled]="isSending()"
                  disabledInteractive
                  (click)="answer(each)"
                >
                  {{ texts.act[each] }}
                </button>
              }
            </div>
          }
        }
      </section>
    }
  `,
  styles: `
    section {
      display: grid;
      gap: var(--space-2);
      margin-block: var(--space-3);
      padding: var(--space-3);
      border: 1px solid var(--hairline);
      border-radius: var(--radius, 6px);
    }
    p {
      margin: 0;
    }
    kettle-text-field {
      max-inline-size: 420px;
    }
    .acts {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
    }
  `,
})
export class InvitationPanel {
  protected readonly texts = {
    said: {
      none: '',
      accepted: $localize`You accepted it.`,
      tentative: $localize`You said perhaps.`,
      declined: $localize`You declined it.`,
    },
    act: {
      accepted: $localize`Accept`,
      tentative: $localize`Perhaps`,
      declined: $localize`Decline`,
    },
  };

  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  private readonly undo = inject(Undo);
  private readonly notices = inject(Notices);
  readonly mail = input.required<Mail>();
  /** The mail as it is after the answer, or once it was undone. */
  readonly changed = output();
  protected readonly answers: readonly Answer[] = ['accepted', 'tentative', 'declined'];
  protected readonly words = signal('');
  protected readonly isSending = signal(false);
  protected readonly warnings = reading((body: CallOf<'appointmentWarnings'>['body']) =>
    this.api.call('appointmentWarnings', { body }),
  );
  protected readonly on = computed(() =>
    this.user.dateOf(this.mail().invitation?.startsAt ?? this.user.now()),
  );
  protected readonly when = computed(() => {
    const it = this.mail().invitation;
    if (it === null) return '';
    const [from, to] = [this.user.timeOf(it.startsAt), this.user.timeOf(it.endsAt)];
    return `${sayDate(this.on(), this.user.today())} ${from}–${to}`;
  });
  protected readonly isOver = computed(() => (this.mail().invitation?.endsAt ?? '') <= this.user.now());

  /** Whether an answer is waited for. */
  protected readonly asks = computed(() => {
    const it = this.mail().invitation;
    return it !== null && !it.isWithdrawn && !this.isOver() && (it.answer === 'none' || it.isMoved);
  });

  constructor() {
    effect(() => {
      const it = this.mail().invitation;
      if (it === null || !this.asks()) return;
      const minutes = Math.min(1440, Math.max(5, minutesBetween(it.startsAt, it.endsAt)));
      untracked(() => this.warnings.read({ startsAt: it.startsAt, minutes, exceptId: it.appointmentId }));
    });
  }

  protected answer(answer: Answer): void {
    const { id, invitation } = this.mail();
    const changeId = v7();
    const body = { answer, words: this.words() };
    this.isSending.set(true);
    this.api.call('answerReceived', { params: { id }, body }, changeId).subscribe({
      next: () => {
        this.isSending.set(false);
        this.words.set('');
        this.undo.offer(`${this.texts.said[answer]} ${invitation?.title ?? ''}`.trim(), changeId, () =>
          this.changed.emit(),
        );
        this.changed.emit();
      },
      error: (error: unknown) => {
        this.isSending.set(false);
        this.notices.problem(error);
        this.changed.emit();
      },
    });
  }
}
