import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIcon } from '@angular/material/icon';
import type { RuleAct } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { ruleActs, type RuleActKind, type RuleSubject } from '@kettle/contract/rules/kinds';
import { ChoiceField, type Option } from '../../kit/choice-field';
import { NumberField } from '../../kit/number-field';
import { SeveralField } from '../../kit/several-field';
import { TextField } from '../../kit/text-field';
import { CurrentUser } from '../../services/current-user';
import { RuleWords } from './rule-words';
import { SettingFields } from './setting-fields';

const names: Readonly<Record<RuleActKind, string>> = {
  task: $localize`plan a task`,
  deal: $localize`add a deal`,
  field: $localize`set a field`,
  stage: $localize`move it to a stage`,
  standing: $localize`change the standing`,
  owner: $localize`give it to somebody`,
  tag: $localize`put a tag on or off`,
  'start-cadence': $localize`start a cadence`,
  'stop-cadences': $localize`stop their cadences`,
  notify: $localize`tell colleagues`,
  write: $localize`write to colleagues`,
  mail: $localize`send a mail from a text`,
  text: $localize`send a text`,
  hook: $localize`tell a web hook`,
  renewal: $localize`begin the renewal`,
};

const firsts: Readonly<Record<RuleActKind, RuleAct>> = {
  task: { kind: 'task', channel: 'call', purpose: '', inDays: 0, minutes: 6, ownerId: null },
  deal: { kind: 'deal', name: '', stageId: '' as never, closeInDays: 60, amountMinor: null },
  field: { kind: 'field', field: '', value: '', inDays: null },
  stage: { kind: 'stage', stageId: '' as never },
  standing: { kind: 'standing', standingId: '' as never },
  owner: { kind: 'owner', ownerId: '' as never },
  tag: { kind: 'tag', tag: '', isTaken: false },
  'start-cadence': { kind: 'start-cadence', cadenceId: '' as never },
  'stop-cadences': { kind: 'stop-cadences' },
  notify: { kind: 'notify', to: ['owner'], words: '' },
  write: { kind: 'write', to: ['owner'], subject: '', words: '' },
  mail: { kind: 'mail', templateId: '' as never, to: 'contact' },
  text: { kind: 'text', templateId: '' as never },
  hook: { kind: 'hook', hookId: '' as never },
  renewal: { kind: 'renewal' },
};

/** What a rule does first. */
export const firstAct: RuleAct = firsts.task;

type Whom = 'owner' | 'manager' | (string & {});

/** One thing a rule does, chosen and filled in. */
@Component({
  selector: 'kettle-act-row',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, MatButtonModule, MatIcon, NumberField, SettingFields, SeveralField, TextField],
  template: `
    <div class="row" role="group" [attr.aria-label]="texts.thing(at() + 1)">
      <kettle-choice-field
        label="Then"
        i18n-label
        [value]="act().kind"
        (valueChange)="choose($event!)"
        [options]="kinds()"
      />
      @let shown = act();
      @switch (shown.kind) {
        @case ('task') {
          <kettle-text-field
            class="wide"
            label="What for"
            i18n-label
            [value]="shown.purpose"
            (valueChange)="put({ purpose: $event })"
          />
          <kettle-choice-field
            label="How"
            i18n-label
            [value]="shown.channel"
            (valueChange)="put({ channel: $event! })"
            [options]="channels"
          />
          <kettle-number-field
            label="In how many days"
            i18n-label
            [min]="0"
            [max]="365"
            [value]="shown.inDays"
            (valueChange)="put({ inDays: $event ?? 0 })"
          />
          <kettle-choice-field
            label="For"
            i18n-label
            [value]="shown.ownerId ?? ''"
            (valueChange)="put({ ownerId: $event === '' ? null : $event })"
            [options]="ownerOr()"
          />
        }
        @case ('deal') {
          <kettle-text-field
            class="wide"
            label="Name of the deal"
            i18n-label
            [value]="shown.name"
            (valueChange)="put({ name: $event })"
          />
          <kettle-choice-field
            label="Stage"
            i18n-label
            [value]="shown.stageId"
            (valueChange)="put({ stageId: $event })"
            [options]="words.stages()"
          />
          <kettle-number-field
            label="To close in days"
            i18n-label
            [min]="0"
            [max]="730"
            [value]="shown.closeInDays"
            (valueChange)="put({ closeInDays: $event ?? 0 })"
          />
        }
        @case ('field') {
          <kettle-setting-fields [setting]="shown" [subject]="subject()" (changed)="put($event)" />
        }
        @case ('stage') {
          <kettle-choice-field
            label="Stage"
            i18n-label
            [value]="shown.stageId"
            (valueChange)="put({ stageId: $event })"
            [options]="words.stages()"
          />
        }
        @case ('standing') {
          <kettle-choice-field
            label="Standing"
            i18n-label
            [value]="shown.standingId"
            (valueChange)="put({ standingId: $event })"
            [options]="words.standings()"
          />
        }
        @case ('owner') {
          <kettle-choice-field
            label="To whom"
            i18n-label
            [value]="shown.ownerId"
            (valueChange)="put({ ownerId: $event })"
            [options]="words.colleagues()"
          />
        }
        @case ('tag') {
          <kettle-text-field
            label="Tag"
            i18n-label
            [value]="shown.tag"
            (valueChange)="put({ tag: $event })"
          />
          <kettle-choice-field
            label="On or off"
            i18n-label
            [value]="shown.isTaken ? 'off' : 'on'"
            (valueChange)="put({ isTaken: $event === 'off' })"
            [options]="onOrOff"
          />
        }
        @case ('start-cadence') {
          <kettle-choice-field
            label="Cadence"
            i18n-label
            [value]="shown.cadenceId"
            (valueChange)="put({ cadenceId: $event })"
            [options]="words.cadences()"
          />
        }
        @case ('notify') {
          <kettle-several-field
            label="Whom"
            i18n-label
            [value]="shown.to"
            (valueChange)="put({ to: $event })"
            [options]="whom()"
          />
          <kettle-text-field
            class="wide"
            label="What they read"
            i18n-label
            [value]="shown.words"
            (valueChange)="put({ words: $event })"
          />
        }
        @case ('write') {
          <kettle-several-field
            label="Whom"
            i18n-label
            [value]="shown.to"
            (valueChange)="put({ to: $event })"
            [options]="whom()"
          />
          <kettle-text-field
            class="wide"
            label="Subject"
            i18n-label
            [value]="shown.subject"
            (valueChange)="put({ subject: $event })"
          />
          <kettle-text-field
            class="whole"
            label="What the mail says"
            i18n-label
            [rows]="3"
            [value]="shown.words"
            (valueChange)="put({ words: $event })"
          />
        }
        @case ('mail') {
          <kettle-choice-field
            label="Text"
            i18n-label
            [value]="shown.templateId"
            (valueChange)="put({ templateId: $event })"
            [options]="words.templates('email')"
          />
          <kettle-choice-field
            label="To whom"
            i18n-label
            [value]="shown.to"
            (valueChange)="put({ to: $event! })"
            [options]="mailTo"
          />
        }
        @case ('text') {
          <kettle-choice-field
            label="Text"
            i18n-label
            [value]="shown.templateId"
            (valueChange)="put({ templateId: $event })"
            [options]="words.templates('text')"
          />
        }
        @case ('hook') {
          <kettle-choice-field
            label="Web hook"
            i18n-label
            [value]="shown.hookId"
            (valueChange)="put({ hookId: $event })"
            [options]="words.hooks()"
          />
        }
      }
      @if (canGo()) {
        <button
          matIconButton
          type="button"
          class="gone"
          (click)="gone.emit()"
          [attr.aria-label]="texts.remove(at() + 1)"
        >
          <mat-icon svgIcon="close" />
        </button>
      }
    </div>
  `,
  styles: `
    .row {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
      align-items: end;
      padding-block: var(--space-2);
      border-block-end: 1px solid var(--hairline);
    }
    .row > * {
      flex: 1 1 150px;
    }
    .row > .wide {
      flex: 2 1 280px;
    }
    .row > .whole {
      flex: 1 1 100%;
    }
    .row > .gone {
      flex: 0 0 auto;
      margin-inline-start: auto;
    }
  `,
})
export class ActRow {
  protected readonly texts = {
    thing: (at: number) => $localize`Thing ${at}:at: to do`,
    remove: (at: number) => $localize`Remove thing ${at}:at:`,
  };

  private readonly user = inject(CurrentUser);
  protected readonly words = inject(RuleWords);
  readonly act = input.required<RuleAct>();
  readonly subject = input.required<RuleSubject>();
  readonly at = input.required<number>();
  /** Whether it can be removed: something has to be done. */
  readonly canGo = input(true);
  readonly changed = output<RuleAct>();
  readonly gone = output();

  protected readonly kinds = computed((): Option<RuleActKind>[] =>
    ruleActs[this.subject()]
      .filter((kind) => kind !== 'hook' || this.user.person()?.role === 'admin')
      .map((value) => ({ value, words: names[value] })),
  );
  protected readonly channels = (Object.keys(channelLabel) as (keyof typeof channelLabel)[]).map((value) => ({
    value,
    words: channelLabel[value],
  }));
  protected readonly ownerOr = computed((): Option<string>[] => [
    { value: '', words: $localize`its owner` },
    ...this.words.colleagues(),
  ]);
  protected readonly whom = computed((): Option<Whom>[] => [
    { value: 'owner', words: $localize`its owner` },
    { value: 'manager', words: $localize`the owner’s manager` },
    ...this.words.colleagues(),
  ]);
  protected readonly onOrOff: Option<'on' | 'off'>[] = [
    { value: 'on', words: $localize`on` },
    { value: 'off', words: $localize`off` },
  ];
  protected readonly mailTo: Option<'contact' | 'owner'>[] = [
    { value: 'contact', words: $localize`the person` },
    { value: 'owner', words: $localize`its owner` },
  ];
  protected choose(kind: RuleActKind): void {
    if (kind !== this.act().kind) this.changed.emit(firsts[kind]);
  }

  protected put(part: object): void {
    this.changed.emit({ ...this.act(), ...part } as RuleAct);
  }
}
