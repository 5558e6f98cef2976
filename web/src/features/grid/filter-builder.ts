import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatIcon } from '@angular/material/icon';
import { majorOf, minorOf } from '@kettle/core/money';
import { type FilterGroup, type FilterRule } from '@kettle/contract';
import { type Measure, measureNames, measures, usualContact } from '@kettle/contract/base/counted';
import { mostFilterDays, questionKindOf, questions } from '@kettle/contract/base/grid-fields';
import { ChoiceField, type Choices, named, type Option } from '../../kit/choice-field';
import { DayField } from '../../kit/day-field';
import { fieldParts } from '../../kit/field';
import { NumberField } from '../../kit/number-field';
import { WhyNot } from '../../kit/why-not';
import { CurrentUser } from '../../services/current-user';
import { PeopleWords } from '../fields/index';
import type { Column } from './columns';

type Ask = FilterRule['ask'];
const deepest = 3;
const asksNothing: readonly Ask[] = ['empty', 'filled', 'yes', 'no'];
type NumberKind = 'days' | 'money' | 'percent' | 'decimal';
const asksDays: readonly Ask[] = ['within-past', 'not-within-past', 'within-next'];

/** Questions joined by and / or, groups within groups; each says itself in words. */
@Component({
  selector: 'kettle-filter-builder',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ChoiceField,
    DayField,
    NumberField,
    WhyNot,
    fieldParts,
    MatButtonModule,
    MatCheckboxModule,
    MatIcon,
  ],
  template: `
    <fieldset>
      <legend i18n class="visually-hidden">Filter</legend>
      @for (rule of group().rules; track $index; let at = $index) {
        <div class="rule">
          <span class="join soft">
            @if (at === 0) {
              <ng-container i18n>where</ng-container>
            } @else {
              <button
                matButton
                type="button"
                (click)="turn()"
                [attr.aria-label]="texts.joinedByChange(joinWord())"
              >
                {{ joinWord() }}
              </button>
            }
          </span>
          @if (isGroup(rule)) {
            <kettle-filter-builder
              [group]="rule"
              [columns]="columns()"
              [depth]="depth() + 1"
              (changed)="replace(at, $event)"
            />
          } @else {
            <kettle-choice-field
              ariaLabel="Field"
              i18n-ariaLabel
              [options]="fieldChoices()"
              [value]="rule.field"
              (valueChange)="chooseField(at, $event!)"
            />
            <kettle-choice-field
              ariaLabel="Question"
              i18n-ariaLabel
              [options]="questionsOf(rule)"
              [value]="rule.ask"
              (valueChange)="change(at, { ask: $event! })"
            />
            @if (needsValue(rule)) {
              @if (choicesOf(rule); as choices) {
                <kettle-choice-field
                  ariaLabel="Value"
                  i18n-ariaLabel
                  placeholder="choose …"
                  i18n-placeholder
                  [options]="choices"
                  [value]="rule.value ?? null"
                  (valueChange)="change(at, { value: $event! })"
                />
              } @else if (isDay(rule)) {
                <kettle-day-field
                  ariaLabel="Value"
                  i18n-ariaLabel
                  [value]="dayOf(rule)"
                  (valueChange)="change(at, { value: $event })"
                />
              } @else if (numberOf(rule); as kind) {
                <kettle-number-field
                  class="value"
                  ariaLabel="Value"
                  i18n-ariaLabel
                  [kind]="kind"
                  [min]="kind === 'days' ? 0 : null"
                  [max]="kind === 'days' ? mostFilterDays : null"
                  [value]="shownOf(rule, kind)"
                  (valueChange)="change(at, { value: askedAs($event, kind) })"
                />
              } @else {
                <mat-form-field class="small value">
                  <input
                    matInput
                    #text
                    aria-label="Value"
                    i18n-aria-label
                    [value]="rule.value ?? ''"
                    (change)="change(at, { value: text.value })"
                  />
                </mat-form-field>
              }
            }
            @if (isOfContact(rule)) {
              <span class="measures" role="group" aria-label="What counts" i18n-aria-label>
                <span i18n class="soft">counting</span>
                @for (each of measures; track each.measure) {
                  <mat-checkbox
                    [checked]="countsOf(rule).has(each.measure)"
                    [disabled]="isLastOf(rule, each.measure)"
                    disabledInteractive
                    [kettleWhyNot]="isLastOf(rule, each.measure) ? texts.somethingCounts : null"
                    (change)="turnMeasure(at, rule, each.measure)"
                  >
                    {{ each.words }}
                  </mat-checkbox>
                }
              </span>
            }
          }
          <button
            matIconButton
            type="button"
            (click)="remove(at)"
            aria-label="Remove this question"
            i18n-aria-label
          >
            <mat-icon svgIcon="close" />
          </button>
        </div>
      }
      <div class="rule">
        <button i18n matButton type="button" (click)="add()">add a question</button>
        @if (depth() < deepest) {
          <button i18n matButton type="button" (click)="addGroup()">add a group</button>
        }
      </div>
    </fieldset>
  `,
  styles: `
    fieldset {
      display: grid;
      gap: 4px;
      padding-inline-start: 8px;
      border-inline-start: 1px solid var(--hairline);
    }
    .rule {
      display: flex;
      align-items: baseline;
      gap: 6px;
      flex-wrap: wrap;
    }
    .join {
      inline-size: 44px;
    }
    .plain {
      inline-size: auto;
      min-block-size: 28px;
      padding: 2px 6px;
    }
    .measures {
      order: 1;
      display: flex;
      flex-basis: 100%;
      flex-wrap: wrap;
      align-items: center;
      gap: 0 var(--space-2);
      padding-inline-start: 50px;
    }
    .value {
      inline-size: 130px;
    }
  `,
})
export class FilterBuilder {
  protected readonly texts = {
    somethingCounts: $localize`Something has to count: tick another one first.`,
    joinedByChange: (joinWord: string | number) => $localize`joined by ${joinWord}:joinWord:: change`,
  };

  private readonly words = inject(PeopleWords);
  private readonly user = inject(CurrentUser);
  protected readonly mostFilterDays = mostFilterDays;
  readonly group = input.required<FilterGroup>();
  readonly columns =
    input.required<readonly Pick<Column, 'key' | 'name' | 'type' | 'options' | 'isCounted'>[]>();
  readonly depth = input(1);
  readonly changed = output<FilterGroup>();
  protected readonly deepest = deepest;
  protected readonly joinWord = computed(() => (this.group().join === 'all' ? 'and' : 'or'));

  protected readonly fieldChoices = computed((): Choices<string> => {
    const asOption = ({ key, name }: { key: string; name: string }) => ({ value: key, words: name });
    const [counted, own] = [true, false].map((is) =>
      this.columns().filter(({ isCounted = false }) => isCounted === is),
    );
    return [
      ...own!.map(asOption),
      ...(counted!.length > 0 ? [{ group: $localize`what happened`, options: counted!.map(asOption) }] : []),
    ];
  });
  protected readonly measures = measures.map((measure) => ({ measure, words: measureNames[measure].many }));
  protected readonly countsOf = ({ of = usualContact }: FilterRule): ReadonlySet<Measure> => new Set(of);

  /** What counts as contact is one's own choice; something has to. */
  protected turnMeasure(at: number, rule: FilterRule, measure: Measure): void {
    const counts = new Set(this.countsOf(rule));
    if (!counts.delete(measure)) counts.add(measure);
    if (counts.size > 0) this.change(at, { of: measures.filter((each) => counts.has(each)) });
  }

  protected isLastOf(rule: FilterRule, measure: Measure): boolean {
    const counts = this.countsOf(rule);
    return counts.size === 1 && counts.has(measure);
  }

  protected isGroup(rule: FilterRule | FilterGroup): rule is FilterGroup {
    return 'join' in rule;
  }

  protected questionsOf(rule: FilterRule): Option<Ask>[] {
    const column = this.column(rule.field);
    const asked = questions[questionKindOf(column?.type ?? 'text')];
    const known = Object.entries(asked).filter(
      ([ask]) => column?.type !== 'person' || asksNothing.includes(ask as Ask),
    );
    return known.map(([ask, words]) => ({ value: ask as Ask, words }));
  }

  protected dayOf = ({ value }: FilterRule): string => (typeof value === 'string' ? value : '');

  protected needsValue(rule: FilterRule): boolean {
    return !asksNothing.includes(rule.ask);
  }

  protected isOfContact = (rule: FilterRule): boolean => this.column(rule.field)?.type === 'contacted';

  protected isDay(rule: FilterRule): boolean {
    return this.numberOf(rule) === null && this.kindOf(rule) === 'date';
  }

  /** How the number is written that a question asks for; null where it asks for none. */
  protected numberOf(rule: FilterRule): NumberKind | null {
    if (asksDays.includes(rule.ask)) return 'days';
    if (this.kindOf(rule) !== 'number') return null;
    const type = this.column(rule.field)?.type;
    return type === 'money' || type === 'percent' ? type : 'decimal';
  }

  private kindOf(rule: FilterRule) {
    return questionKindOf(this.column(rule.field)?.type ?? 'text');
  }

  /** A question keeps whole units and per cent, as people say them; the field has minor units and shares. */
  protected shownOf({ value }: FilterRule, kind: NumberKind): number | null {
    if (typeof value !== 'number') return null;
    return kind === 'money' ? minorOf(value, this.user.currency()) : kind === 'percent' ? value / 100 : value;
  }

  protected askedAs(shown: number | null, kind: NumberKind): number | undefined {
    if (shown === null) return undefined;
    if (kind === 'percent') return Number((shown * 100).toFixed(4));
    return kind === 'money' ? majorOf(shown, this.user.currency()) : shown;
  }

  protected choicesOf(rule: FilterRule): Option<string>[] | null {
    const column = this.column(rule.field);
    if (column?.options !== undefined)
      return column.options.map(({ value, name }) => ({ value, words: name }));
    switch (column?.type) {
      case 'standing':
        return named<string>(this.words.standings().map(({ standing }) => standing));
      case 'user':
        return [{ value: 'me', words: $localize`me` }, ...named<string>(this.words.colleagues())];
      default:
        return null;
    }
  }

  protected chooseField(at: number, field: string): void {
    const [first] = this.questionsOf({ field, ask: 'is' });
    this.replace(at, { field, ask: first?.value ?? 'filled' });
  }

  protected change(at: number, part: Partial<FilterRule>): void {
    const rule = this.group().rules[at];
    if (rule && !this.isGroup(rule)) this.replace(at, { ...rule, ...part });
  }

  protected replace(at: number, rule: FilterRule | FilterGroup): void {
    this.put(this.group().rules.map((each, index) => (index === at ? rule : each)));
  }

  protected remove(at: number): void {
    this.put(this.group().rules.filter((_, index) => index !== at));
  }

  protected add(): void {
    this.put([...this.group().rules, this.first()]);
  }

  protected addGroup(): void {
    const join = this.group().join === 'all' ? 'any' : 'all';
    this.put([...this.group().rules, { join, rules: [this.first()] }]);
  }

  private first(): FilterRule {
    return { field: this.columns()[0]?.key ?? 'name', ask: 'has' };
  }

  protected turn(): void {
    this.changed.emit({ ...this.group(), join: this.group().join === 'all' ? 'any' : 'all' });
  }

  private put(rules: FilterGroup['rules']): void {
    this.changed.emit({ ...this.group(), rules });
  }

  private column(key: string) {
    return this.columns().find((column) => column.key === key);
  }
}

/** Only questions that are asked to the end: one still without its value narrows nothing. */
export function askedOnly(group: FilterGroup): FilterGroup {
  const rules = group.rules.flatMap((rule): (FilterRule | FilterGroup)[] => {
    if ('join' in rule) {
      const inner = askedOnly(rule);
      return inner.rules.length > 0 ? [inner] : [];
    }
    const isWhole =
      asksNothing.includes(rule.ask) ||
      (rule.value !== undefined && rule.value !== '' && !Number.isNaN(rule.value));
    return isWhole ? [rule] : [];
  });
  return { ...group, rules };
}
