import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { Rule, RuleBody, RuleOffer } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { reading } from '../../api/reading';
import { CountPipe, MomentPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { ChangeStream } from '../../services/change-stream';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { RuleFirings } from './rule-firings';
import { RuleForm } from './rule-form';
import { RuleWords } from './rule-words';

type Editing = { readonly id: string | null; readonly from: (RuleBody & Partial<Rule>) | null };

/** House rules: what happens by itself. Written, read as sentences, switched on and off, and what each did. */
@Component({
  selector: 'kettle-rules',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    CountPipe,
    Failed,
    MatButtonModule,
    MatCheckboxModule,
    MomentPipe,
    RuleFirings,
    RuleForm,
    Waiting,
  ],
  template: `
    <section aria-labelledby="rules">
      <h2 i18n id="rules">House rules</h2>
      <p i18n class="soft">
        What happens by itself. A rule does what its author may do, and what it did stands below it with its
        reason, to be undone.
      </p>
      @if (read.value(); as known) {
        <p class="soft">{{ renewals(known.renewalStep.ruleName) }}</p>
        <ul>
          @for (each of known.rules; track each.id) {
            <li>
              @if (editing()?.id === each.id) {
                <kettle-rule-form
                  [from]="each"
                  (saved)="saved($event.rule, $event.changeId)"
                  (left)="editing.set(null)"
                />
              } @else {
                <div class="line">
                  <b>{{ each.name }}</b>
                  <mat-checkbox
                    [checked]="each.isOn"
                    [disabled]="!each.mayChange"
                    (change)="turn(each, $event.checked)"
                  >
                    {{ each.isOn ? texts.on : texts.off }}
                  </mat-checkbox>
                  <span class="grow"></span>
                  @if (each.mayChange) {
                    <button
                      matButton
                      type="button"
                      [attr.aria-label]="texts.change(each.name)"
                      (click)="editing.set({ id: each.id, from: each })"
                    >
                      {{ texts.changeIt }}
                    </button>
                    <button
                      matButton
                      type="button"
                      [attr.aria-label]="texts.remove(each.name)"
                      (click)="remove(each)"
                    >
                      {{ texts.removeIt }}
                    </button>
                  }
                </div>
                <p>{{ words.sentence(each) }}</p>
                <div class="line soft">
                  <span i18n>by {{ each.byName }}</span>
                  @if (each.firedAt; as at) {
                    <span>{{ each.fired | count: texts.fired }}</span>
                    <span i18n>last {{ at | moment }}</span>
                  } @else {
                    <span i18n>did nothing in 30 days</span>
                  }
                  @if (each.notDone > 0) {
                    <span class="now">{{ each.notDone | count: texts.notDone }}</span>
                  }
                  <button
                    matButton
                    type="button"
                    [attr.aria-expanded]="opened() === each.id"
                    [attr.aria-label]="texts.did(each.name)"
                    (click)="opened.set(opened() === each.id ? null : each.id)"
                  >
                    {{ opened() === each.id ? texts.hide : texts.show }}
                  </button>
                </div>
                @if (opened() === each.id) {
                  <kettle-rule-firings
                    [ruleId]="each.id"
                    [mayUndo]="each.mayChange"
                    (undone)="read.again()"
                  />
                }
              }
            </li>
          } @empty {
            <li i18n class="soft">None yet. Begin with one of those below, or write your own.</li>
          }
        </ul>
        @if (editing(); as open) {
          @if (open.id === null) {
            <kettle-rule-form
              [from]="open.from"
              (saved)="saved($event.rule, $event.changeId)"
              (left)="editing.set(null)"
            />
          }
        } @else {
          <h3 i18n>Write a rule</h3>
          <button i18n matButton="filled" type="button" (click)="editing.set({ id: null, from: null })">
            Write your own
          </button>
          <ul>
            @for (each of known.offers; track each.key) {
              <li>
                <div class="line">
                  <b>{{ each.name }}</b>
                  <span class="grow"></span>
                  <button
                    matButton
                    type="button"
                    [attr.aria-label]="texts.beginWith(each.name)"
                    (click)="begin(each)"
                  >
                    {{ texts.begin }}
                  </button>
                </div>
                <p class="soft">{{ words.sentence(each) }}</p>
              </li>
            }
          </ul>
        }
      } @else if (read.state().kind !== 'failed') {
        <kettle-waiting />
      }
      @if (read.state(); as state) {
        @if (state.kind === 'failed') {
          <kettle-failed [problem]="state.problem" (again)="read.again()" />
        }
      }
    </section>
  `,
  styleUrls: ['../settings/settings-part.scss', '../programs/programs.scss', './rules.scss'],
})
export class RulesPart {
  protected readonly texts = {
    on: $localize`on`,
    off: $localize`off`,
    changeIt: $localize`change`,
    removeIt: $localize`remove`,
    show: $localize`what it did`,
    hide: $localize`hide what it did`,
    begin: $localize`begin with it`,
    fired: $localize`time in 30 days|times in 30 days`,
    notDone: $localize`time not carried out|times not carried out`,
    change: (name: string) => $localize`Change ${name}:name:`,
    remove: (name: string) => $localize`Remove ${name}:name:`,
    did: (name: string) => $localize`What ${name}:name: did`,
    beginWith: (name: string) => $localize`Begin with ${name}:name:`,
  };

  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  protected readonly words = inject(RuleWords);
  protected readonly read = reading((_: null) => this.api.call('listRules'));
  protected readonly editing = signal<Editing | null>(null);
  protected readonly opened = signal<string | null>(null);
  private readonly subjects = computed(
    () =>
      new Set(
        [...(this.read.value()?.rules ?? []), ...(this.read.value()?.offers ?? [])]
          .filter((each) => each.if !== null)
          .map(({ subject }) => subject),
      ),
  );

  constructor() {
    this.words.wake();
    this.read.read(null);
    // Their questions are said by the names of their lists' fields.
    effect(() => {
      for (const subject of this.subjects()) untracked(() => void this.words.load(subject));
    });
    inject(ChangeStream)
      .mine('rule')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.read.again());
  }

  /** Renewals begin, whatever is written here. */
  protected renewals(ruleName: string | null): string {
    return ruleName === null
      ? $localize`Renewals begin on the lead day of each agreement. A rule of an admin’s that begins them, such as the renewal step below, takes the place of that.`
      : $localize`Renewals begin by the rule “${ruleName}:name:”. Once it is off, or its author has left, they begin on the lead day of each agreement.`;
  }

  protected begin({ key: _, ...rule }: RuleOffer): void {
    this.editing.set({ id: null, from: { ...rule, isOn: true } });
  }

  protected saved({ name }: Rule, changeId: string): void {
    this.editing.set(null);
    this.read.again();
    this.offer($localize`The rule “${name}:name:” is saved.`, changeId);
  }

  protected turn(rule: Rule, isOn: boolean): void {
    const { id, name, subject, when, if: asks, then, missed, perDay, version } = rule;
    const changeId = v7();
    const body = { name, subject, when, if: asks, then, missed, perDay, version, isOn };
    this.api.call('changeRule', { params: { id }, body }, changeId).subscribe({
      next: () => {
        this.read.again();
        this.offer(isOn ? $localize`“${name}:name:” is on.` : $localize`“${name}:name:” is off.`, changeId);
      },
      error: (error: unknown) => {
        this.read.again();
        this.notices.problem(error);
      },
    });
  }

  protected remove({ id, name }: Rule): void {
    const changeId = v7();
    this.api.call('removeRule', { params: { id } }, changeId).subscribe({
      next: () => {
        this.read.again();
        this.offer($localize`The rule “${name}:name:” is removed.`, changeId);
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  private offer(words: string, changeId: string): void {
    this.undo.offer(words, changeId, () => this.read.again());
  }
}
