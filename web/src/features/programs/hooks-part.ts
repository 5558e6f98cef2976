import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { Hook, ReplyOf } from '@kettle/contract';
import { hookEvents, type HookEventName } from '@kettle/contract/hooks/kinds';
import type { Observable } from 'rxjs';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { CountPipe, MomentPipe } from '../../kit/say.pipes';
import { ShownOnce } from '../../kit/shown-once';
import { Failed } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { HookCalls } from './hook-calls';
import { HookForm } from './hook-form';

/** Addresses outside that are told what happens here: added, tried, changed, switched off, removed. */
@Component({
  selector: 'kettle-hooks',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    CountPipe,
    Failed,
    HookCalls,
    HookForm,
    MatButtonModule,
    MatCheckboxModule,
    MomentPipe,
    ShownOnce,
  ],
  template: `
    <section aria-labelledby="hooks">
      <h2 i18n id="hooks">Web hooks</h2>
      <p i18n class="soft">
        An address outside is told at once when something happens here. It is sent ids and no personal data;
        what they stand for a program reads with an API key.
      </p>
      <p>
        <a i18n href="/api/docs" target="_blank" rel="noopener">How a message is read and checked</a>
      </p>
      @if (read.state(); as state) {
        @if (state.kind === 'failed') {
          <kettle-failed [problem]="state.problem" (again)="read.again()" />
        }
      }
      @if (secret(); as made) {
        <kettle-shown-once
          [label]="texts.secretOf(made.hook.name)"
          [value]="made.secret"
          (kept)="secret.set(null)"
        />
      }
      @if (read.value(); as known) {
        <ul>
          @for (each of known.hooks; track each.id) {
            <li>
              @if (changing() === each.id) {
                <kettle-hook-form
                  [hook]="each"
                  (done)="changed($event.hook, $event.changeId)"
                  (left)="changing.set(null)"
                />
              } @else {
                <div class="line">
                  <b>{{ each.name }}</b>
                  <mat-checkbox [checked]="each.isOn" (change)="turn(each, $event.checked)">
                    {{ each.isOn ? texts.on : texts.off }}
                  </mat-checkbox>
                  <span class="grow"></span>
                  <button
                    matButton
                    type="button"
                    [attr.aria-label]="texts.tryNow(each.name)"
                    [disabled]="busy() === each.id"
                    disabledInteractive
                    (click)="tryNow(each)"
                  >
                    {{ busy() === each.id ? texts.trying : texts.tryIt }}
                  </button>
                  <button
                    matButton
                    type="button"
                    [attr.aria-label]="texts.change(each.name)"
                    (click)="changing.set(each.id)"
                  >
                    {{ texts.changeIt }}
                  </button>
                  <button
                    matButton
                    type="button"
                    [attr.aria-label]="texts.renew(each.name)"
                    (click)="renew(each)"
                  >
                    {{ texts.renewIt }}
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
                <span class="address soft">{{ each.url }}</span>
                <p class="soft">{{ eventWords(each) }}</p>
                @if (each.off === 'gone') {
                  <p i18n class="now" role="status">
                    Switched off: the address says that it is gone for good.
                  </p>
                } @else if (each.off === 'failing') {
                  <p i18n class="now" role="status">Switched off: it failed for days. {{ each.failure }}</p>
                } @else if (each.failingSince; as since) {
                  <p class="now" role="status">
                    {{ each.failure }}
                    <span i18n>It fails since {{ since | moment }} and is tried again.</span>
                  </p>
                } @else if (each.triedAt; as at) {
                  <p i18n class="soft">Last told {{ at | moment }}.</p>
                }
                @if (each.formerUntil; as until) {
                  <p i18n class="soft">The former secret signs too until {{ until | moment }}.</p>
                }
                <div class="line">
                  @if (each.waiting > 0) {
                    <span>{{ each.waiting | count: texts.waiting }}</span>
                  }
                  <button
                    matButton
                    type="button"
                    [attr.aria-expanded]="opened() === each.id"
                    [attr.aria-label]="texts.calls(each.name)"
                    (click)="opened.set(opened() === each.id ? null : each.id)"
                  >
                    {{ opened() === each.id ? texts.hideCalls : texts.showCalls }}
                  </button>
                </div>
                @if (opened() === each.id) {
                  <kettle-hook-calls [hookId]="each.id" (told)="read.again()" />
                }
              }
            </li>
          } @empty {
            <li i18n class="soft">None yet.</li>
          }
        </ul>
        <h3 i18n>Tell another address</h3>
        <kettle-hook-form [hook]="null" (added)="added($event.made, $event.changeId)" />
      }
    </section>
  `,
  styleUrls: ['../settings/settings-part.scss', './programs.scss'],
})
export class HooksPart {
  protected readonly texts = {
    on: $localize`is told`,
    off: $localize`is told nothing`,
    tryIt: $localize`try it`,
    trying: $localize`trying …`,
    changeIt: $localize`change`,
    renewIt: $localize`new secret`,
    removeIt: $localize`remove`,
    showCalls: $localize`what it was told`,
    hideCalls: $localize`hide what it was told`,
    waiting: $localize`message waits|messages wait`,
    tryNow: (name: string) => $localize`Try ${name}:name: now`,
    change: (name: string) => $localize`Change ${name}:name:`,
    renew: (name: string) => $localize`New secret for ${name}:name:`,
    remove: (name: string) => $localize`Remove ${name}:name:`,
    calls: (name: string) => $localize`What ${name}:name: was told`,
    secretOf: (name: string) => $localize`The secret of ${name}:name:`,
  };

  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  protected readonly read = reading((_: null) => this.api.call('listHooks'));
  protected readonly secret = signal<ReplyOf<'addHook'> | null>(null);
  protected readonly changing = signal<string | null>(null);
  protected readonly opened = signal<string | null>(null);
  /** The one that is being tried just now. */
  protected readonly busy = signal<string | null>(null);

  constructor() {
    this.read.read(null);
    inject(ChangeStream)
      .mine('hook')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.read.again());
  }

  protected eventWords({ events }: Hook): string {
    const words = events.map((name: HookEventName) => hookEvents[name].words);
    return $localize`Told when ${words.join('; ')}:what:.`;
  }

  protected added(made: ReplyOf<'addHook'>, changeId: string): void {
    this.secret.set(made);
    this.read.again();
    const { name, failure } = made.hook;
    const words =
      failure === null
        ? $localize`${name}:name: is told from now on.`
        : $localize`${name}:name: is told from now on. Tried just now: ${failure}:failure:`;
    this.offer(words, changeId);
  }

  protected changed({ name }: Hook, changeId: string): void {
    this.changing.set(null);
    this.read.again();
    this.offer($localize`${name}:name: is changed.`, changeId);
  }

  protected turn({ id, name, url, events, version }: Hook, isOn: boolean): void {
    const changeId = v7();
    const body = { name, url, events, version, isOn };
    const words = isOn ? $localize`${name}:name: is told again.` : $localize`${name}:name: is told nothing.`;
    this.carryOut(this.api.call('changeHook', { params: { id }, body }, changeId), () =>
      this.offer(words, changeId),
    );
  }

  protected tryNow({ id, name }: Hook): void {
    this.busy.set(id);
    this.carryOut(this.api.call('tryHook', { params: { id } }), ({ failure }) =>
      this.notices.say(failure === null ? $localize`${name}:name: took it.` : `${name}: ${failure}`),
    );
  }

  protected renew({ id }: Hook): void {
    this.carryOut(this.api.call('renewHookSecret', { params: { id } }), (made) => this.secret.set(made));
  }

  protected remove({ id, name }: Hook): void {
    const changeId = v7();
    this.carryOut(this.api.call('removeHook', { params: { id } }, changeId), () =>
      this.offer($localize`${name}:name: is told nothing any more.`, changeId),
    );
  }

  private offer(words: string, changeId: string): void {
    this.undo.offer(words, changeId, () => this.read.again());
  }

  private carryOut<Reply>(asked: Observable<Reply>, then: (reply: Reply) => void): void {
    asked.subscribe({
      next: (reply) => {
        this.busy.set(null);
        this.read.again();
        then(reply);
      },
      error: (error: unknown) => {
        this.busy.set(null);
        this.read.again();
        this.notices.problem(error);
      },
    });
  }
}
