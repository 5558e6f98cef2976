import { ChangeDetectionStrategy, Component, inject, input, type OnInit, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { HookCall } from '@kettle/contract';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { MomentPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { Notices } from '../../services/notices';

/** What an address was told of late, what came of it, and what waits. */
@Component({
  selector: 'kettle-hook-calls',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Failed, MatButtonModule, MomentPipe, Waiting],
  template: `
    @if (read.value(); as known) {
      <ul>
        @for (each of known.calls; track each.eventId) {
          <li class="line">
            <code>{{ each.type }}</code>
            <span class="soft">{{ each.madeAt | moment }}</span>
            <span [class.now]="each.state !== 'sent'">{{ wordsOf(each) }}</span>
            @if (each.nextAt; as next) {
              <span i18n class="soft">next try {{ next | moment }}</span>
            }
            <span class="grow"></span>
            <button
              matButton
              type="button"
              [attr.aria-label]="texts.again(each.type)"
              (click)="sendAgain(each)"
            >
              {{ texts.sendAgain }}
            </button>
          </li>
        } @empty {
          <li i18n class="soft">It was told nothing yet.</li>
        }
      </ul>
      @if (known.isCut) {
        <p i18n class="soft">These are the newest 100; older ones are kept for thirty days.</p>
      }
    } @else if (read.state().kind !== 'failed') {
      <kettle-waiting />
    }
    @if (read.state(); as state) {
      @if (state.kind === 'failed') {
        <kettle-failed [problem]="state.problem" (again)="read.again()" />
      }
    }
  `,
  styleUrls: ['./programs.scss'],
})
export class HookCalls implements OnInit {
  protected readonly texts = {
    sendAgain: $localize`send again`,
    again: (type: string) => $localize`Send ${type}:type: again`,
  };

  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  readonly hookId = input.required<string>();
  readonly told = output();
  protected readonly read = reading((id: string) => this.api.call('listHookCalls', { params: { id } }));

  ngOnInit(): void {
    this.read.read(this.hookId());
  }

  protected wordsOf({ state, failure, status, tries }: HookCall): string {
    if (state === 'sent') return $localize`taken, answered ${status}:status:`;
    const count = tries === 1 ? $localize`once` : $localize`${tries}:tries: times`;
    if (state === 'given-up') return $localize`given up, tried ${count}:count:. ${failure}:failure:`;
    return tries === 0 ? $localize`waits` : $localize`waits, tried ${count}:count:. ${failure}:failure:`;
  }

  protected sendAgain({ eventId, type }: HookCall): void {
    this.api.call('sendHookCallAgain', { params: { id: this.hookId(), eventId } }).subscribe({
      next: () => {
        this.notices.say($localize`${type}:type: is sent again.`);
        this.read.again();
        this.told.emit();
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
