import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { CadenceStep, Channel, PlannedMoment, RunSign, Template } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { plainTime } from '@kettle/core/time';
import type { ApiProblem } from '../../api/api';
import { ChoiceField, labelled, type Option } from '../../kit/choice-field';
import { choiceParts } from '../../kit/choice';
import { TimeField } from '../../kit/time-field';

const signs: readonly { readonly name: RunSign; readonly words: string }[] = [
  { name: 'opened', words: $localize`they opened the last mail` },
  { name: 'clicked', words: $localize`they followed a link in it` },
  { name: 'spoke', words: $localize`they were spoken to meanwhile` },
];

/** Everything about one step of a cadence; it emits what is changed, at once. */
@Component({
  selector: 'kettle-step-editor',
  imports: [ChoiceField, TimeField, choiceParts, MatCheckboxModule, MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './step-editor.html',
  styleUrl: './step-editor.scss',
})
export class StepEditor {
  protected readonly texts = {
    theStart: $localize`the start`,
    step: (index: string | number) => $localize`step ${index}:index:`,
    variants: $localize`Variants`,
    template: $localize`Template`,
    takeOut: (id: string | number) => $localize`Take out ${id}:id:`,
    chooseOne: $localize`choose one`,
    oneMoreToCompare: $localize`one more to compare`,
  };

  readonly step = input.required<CadenceStep>();
  readonly index = input.required<number>();
  readonly moment = input<PlannedMoment | null>(null);
  readonly templates = input<readonly Template[]>([]);
  readonly problem = input<ApiProblem | null>(null);

  readonly changed = output<Partial<CadenceStep>>();
  readonly place = output<Channel>();
  readonly copied = output();
  readonly removed = output();

  protected readonly channels = labelled(channelLabel);
  protected readonly fallbacks = computed((): readonly Option<Channel | null>[] => [
    { value: null, words: $localize`skip it` },
    ...this.channels.filter(({ value }) => value !== this.step().channel),
  ]);
  protected readonly modes = computed((): readonly Option<CadenceStep['mode']>[] => {
    const isOff = this.step().templateIds.length === 0;
    return [
      { value: 'by-hand', words: $localize`by hand` },
      {
        value: 'by-itself',
        words: isOff ? $localize`by itself (needs a template)` : $localize`by itself`,
        isOff,
      },
    ];
  });
  protected readonly signs = signs;
  protected readonly canGoAlone = computed(() => ['email', 'text'].includes(this.step().channel));
  protected readonly usable = computed(() =>
    this.templates().filter(({ channel, isRetired }) => channel === this.step().channel && !isRetired),
  );
  protected readonly unused = computed(() =>
    this.usable().filter(({ id }) => !this.step().templateIds.includes(id)),
  );
  protected readonly wrong = computed(() => {
    const keys = [
      'windowEnd',
      'windowStart',
      'purpose',
      'offsetDays',
      'minutes',
      'mode',
      'templateIds',
      'skipWhen',
    ];
    return keys.flatMap((key) => this.problem()?.of(`definition.steps.${this.index()}.${key}`) ?? []);
  });

  protected time = plainTime;

  protected setTime(key: 'windowStart' | 'windowEnd', text: string): void {
    const [hour = 0, minute = 0] = text.split(':').map(Number);
    this.changed.emit({ [key]: hour * 60 + minute });
  }

  protected nameOf(id: string): string {
    return (
      this.templates().find((template) => template.id === id)?.name ?? $localize`a template that is gone`
    );
  }

  protected addTemplate(id: string): void {
    if (id) this.changed.emit({ templateIds: [...this.step().templateIds, id as Template['id']] });
  }

  protected dropTemplate(id: string): void {
    const templateIds = this.step().templateIds.filter((each) => each !== id);
    this.changed.emit({ templateIds, ...(templateIds.length === 0 ? { mode: 'by-hand' } : {}) });
  }

  protected toggleSign(name: RunSign): void {
    const { skipWhen } = this.step();
    const has = skipWhen.includes(name);
    this.changed.emit({ skipWhen: has ? skipWhen.filter((each) => each !== name) : [...skipWhen, name] });
  }

  protected letter(index: number): string {
    return 'ABCD'.charAt(index);
  }
}
