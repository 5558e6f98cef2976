import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import type { TalkAbout, TalkMessage } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { MomentPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { Notices } from '../../services/notices';
import type { RecordRef } from '../../services/selected-record';
import { Undo } from '../../services/undo';
import { MentionBox } from './mention-box';

type Kind = RecordRef['kind'] | 'agreement';
const fieldOf = {
  contact: 'contactId',
  company: 'companyId',
  deal: 'dealId',
  lead: 'leadId',
  agreement: 'agreementId',
} as const satisfies Record<Kind, keyof TalkAbout>;

/** Where colleagues talk about a record among themselves: none of it is in the customer's journal. */
@Component({
  selector: 'kettle-talk',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Failed, MatButtonModule, MentionBox, MomentPipe, Waiting],
  template: `
    @if (talk.value(); as all) {
      @if (all.earlier > 0) {
        <p i18n class="soft">{{ all.earlier }} earlier ones are not shown.</p>
      }
      <ol aria-label="Talk among colleagues" i18n-aria-label>
        @for (each of all.messages; track each.id) {
          <li>
            <b>{{ each.userName }}</b>
            {{ each.body }}
            <span class="soft">{{ each.at | moment }}</span>
            @if (each.isMine) {
              <button i18n matButton type="button" class="small" (click)="remove(each)">remove</button>
            }
          </li>
        } @empty {
          <li i18n class="soft">
            Nobody said anything yet. What is said here is for colleagues: it is no entry of the journal and
            counts as no touch.
          </li>
        }
      </ol>
      <kettle-mention-box
        #box
        [verb]="texts.say"
        label="Say something to colleagues; @ and a name tells one of them"
        i18n-label
        (said)="say($event, box)"
      />
    } @else if (talk.state(); as state) {
      @if (state.kind === 'failed') {
        <kettle-failed [problem]="state.problem" (again)="talk.again()" />
      } @else {
        <kettle-waiting />
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-2);
      padding-block-start: var(--space-2);
    }
    li {
      padding-block: 6px;
      border-block-end: 1px solid var(--dashed);
      overflow-wrap: anywhere;
    }
    li:last-child {
      border-block-end: none;
    }
  `,
})
export class Talk {
  protected readonly texts = { say: $localize`Say` };
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  readonly record = input.required<{ readonly kind: Kind; readonly id: string }>();
  private readonly about = computed((): TalkAbout => {
    const { kind, id } = this.record();
    return { [fieldOf[kind]]: id };
  });
  protected readonly talk = reading((query: TalkAbout) => this.api.call('listTalk', { query }));

  constructor() {
    effect(() => {
      const about = this.about();
      untracked(() => this.talk.read(about));
    });
    inject(ChangeStream)
      .of('talk')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.talk.again());
  }

  protected say(body: string, box: MentionBox): void {
    this.api.call('writeTalk', { body: { id: v7() as never, ...this.about(), body } }).subscribe({
      next: () => {
        box.empty();
        this.talk.again();
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected remove({ id }: TalkMessage): void {
    const changeId = v7();
    this.api.call('removeTalk', { params: { id } }, changeId).subscribe({
      next: () => {
        this.talk.again();
        this.undo.offer($localize`Removed.`, changeId, () => this.talk.again());
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
