import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import type { RuleAct } from '@kettle/contract';
import type { RuleSubject } from '@kettle/contract/rules/kinds';
import { readCustomValue, sayCustomValue } from '@kettle/core/fields';
import { ChoiceField, type Option } from '../../kit/choice-field';
import { NumberField } from '../../kit/number-field';
import { TextField } from '../../kit/text-field';
import { CurrentUser } from '../../services/current-user';
import { RuleWords } from './rule-words';

type Setting = Extract<RuleAct, { kind: 'field' }>;

/** Which field a rule sets, and to what: chosen, typed, or of a date so many days ahead. */
@Component({
  selector: 'kettle-setting-fields',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, NumberField, TextField],
  template: `
    <kettle-choice-field
      label="Field"
      i18n-label
      [value]="setting().field"
      (valueChange)="choose($event!)"
      [options]="fields()"
    />
    @if (field(); as known) {
      @switch (known.type) {
        @case ('choice') {
          <kettle-choice-field
            label="To"
            i18n-label
            [value]="said()"
            (valueChange)="changed.emit({ value: $event })"
            [options]="known.choices"
          />
        }
        @case ('yes-no') {
          <kettle-choice-field
            label="To"
            i18n-label
            [value]="said()"
            (valueChange)="changed.emit({ value: $event === 'yes' })"
            [options]="yesNo"
          />
        }
        @case ('date') {
          <kettle-number-field
            label="To the day in how many days"
            i18n-label
            [min]="0"
            [max]="730"
            [value]="setting().inDays"
            (valueChange)="changed.emit({ inDays: $event ?? 0 })"
          />
        }
        @default {
          <kettle-text-field label="To" i18n-label [value]="said()" (valueChange)="type($event)" />
        }
      }
    }
  `,
  styles: `
    :host {
      display: contents;
    }
  `,
})
export class SettingFields {
  private readonly words = inject(RuleWords);
  private readonly user = inject(CurrentUser);
  readonly setting = input.required<Setting>();
  readonly subject = input.required<RuleSubject>();
  readonly changed = output<Partial<Setting>>();

  protected readonly yesNo: Option<string>[] = [
    { value: 'yes', words: $localize`yes` },
    { value: 'no', words: $localize`no` },
  ];
  private readonly settable = computed(() => this.words.settable(this.subject()));
  protected readonly fields = computed((): Option<string>[] =>
    this.settable().map(({ key, name }) => ({ value: key, words: name })),
  );
  protected readonly field = computed(() => this.settable().find(({ key }) => key === this.setting().field));
  /** What is being typed stays as it is typed. */
  private readonly typed = signal<string | null>(null);
  protected readonly said = computed(() => {
    const { value } = this.setting();
    const type = this.field()?.type ?? 'text';
    return this.typed() ?? (Array.isArray(value) ? '' : sayCustomValue(value, type, this.user.currency()));
  });

  protected choose(field: string): void {
    this.typed.set(null);
    const type = this.settable().find(({ key }) => key === field)?.type;
    this.changed.emit({
      ...{ field, inDays: type === 'date' ? 7 : null },
      value: type === 'yes-no' ? true : type === 'text' || type === 'link' ? '' : null,
    });
  }

  /** What does not fit goes as it is: the server says what is wrong with it. */
  protected type(text: string): void {
    this.typed.set(text);
    const { type, choices } = this.field()!;
    const read = readCustomValue(
      text,
      { type, choices: choices.map(({ value }) => value) },
      this.user.currency(),
    );
    this.changed.emit({ value: read.kind === 'read' ? read.value : text });
  }
}
