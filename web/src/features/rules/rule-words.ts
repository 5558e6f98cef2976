import { computed, inject, Injectable, Injector, signal, type Signal } from '@angular/core';
import type { FilterGroup, FilterRule, RuleAct, RuleBody, RuleWhen, ListPlace } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { questionKindOf, questions } from '@kettle/contract/base/grid-fields';
import { hookEvents, type HookEventName } from '@kettle/contract/hooks/kinds';
import { eventsThatGo, ruleDates, ruleSubjectLabel, type RuleSubject } from '@kettle/contract/rules/kinds';
import { sayCustomValue } from '@kettle/core/fields';
import { sayCount } from '@kettle/core/locale';
import { minorOf, sayMoney } from '@kettle/core/money';
import { sayDate } from '@kettle/core/time';
import { Api } from '../../api/api';
import { reading, wake } from '../../api/reading';
import type { Option } from '../../kit/form';
import { CurrentUser } from '../../services/current-user';
import { DealWords } from '../deals/index';
import { PeopleWords } from '../fields/index';
import { columnsOf } from '../grid/index';
import { listSpecs, makeSpec } from '../lists/index';
import { settableOf, type Settable } from './settable';

type AnyColumn = ReturnType<typeof columnsOf>[number];

const places: Record<RuleSubject, ListPlace> = {
  contact: 'people',
  deal: 'deals',
  lead: 'leads',
  agreement: 'agreements',
};

const closings: readonly Option<string>[] = [
  { value: 'won', words: $localize`won` },
  { value: 'lost', words: $localize`lost` },
  { value: 'parked', words: $localize`parked` },
];

/** What happened, with where it went. */
function saidOf(event: HookEventName, to: string): string {
  switch (event) {
    case 'deal.closed':
      return $localize`a deal was ${to}:to:`;
    case 'deal.moved':
      return $localize`a deal went to ${to}:to:`;
    case 'contact.standing-changed':
      return $localize`a person’s standing became ${to}:to:`;
    case 'touch.logged':
      return $localize`“${to}:to:” was logged`;
    default:
      return $localize`${hookEvents[event].words}:what: (${to}:to:)`;
  }
}

const sayDays = (days: number): string => sayCount(days, $localize`day|days`);
const sayIn = (days: number): string =>
  days === 0 ? $localize`for the same day` : $localize`in ${sayDays(days)}:days:`;

type Draft = Pick<RuleBody, 'subject' | 'when' | 'if' | 'then'>;

/** What rules are spoken of in: stages, standings, colleagues, texts, cadences, web hooks, and the fields of each list. */
@Injectable({ providedIn: 'root' })
export class RuleWords {
  private readonly api = inject(Api);
  private readonly injector = inject(Injector);
  private readonly user = inject(CurrentUser);
  private readonly deals = inject(DealWords);
  private readonly people = inject(PeopleWords);
  private readonly templateRead = reading((_: null) => this.api.call('listTemplates'));
  private readonly cadenceRead = reading((_: null) => this.api.call('listCadences'));
  private readonly hookRead = reading((_: null) => this.api.call('listHooks'));
  private readonly journalRead = reading((_: null) => this.api.call('journalSettings'));
  private readonly specs = signal<
    Partial<Record<RuleSubject, { readonly columns: Signal<readonly AnyColumn[]> }>>
  >({});

  readonly stages = computed((): Option<string>[] =>
    this.deals
      .pipelines()
      .flatMap((pipeline) =>
        pipeline.stages.map(({ id, name }) => ({ value: id as string, words: `${pipeline.name}: ${name}` })),
      ),
  );
  readonly standings = computed((): Option<string>[] =>
    this.people.standings().map(({ standing: { id, name } }) => ({ value: id as string, words: name })),
  );
  readonly colleagues = computed((): Option<string>[] =>
    this.people.colleagues().map(({ id, name }) => ({ value: id as string, words: name })),
  );
  readonly cadences = computed((): Option<string>[] =>
    (this.cadenceRead.value()?.cadences ?? []).map(({ id, name }) => ({ value: id as string, words: name })),
  );
  readonly hooks = computed((): Option<string>[] =>
    (this.hookRead.value()?.hooks ?? []).map(({ id, name }) => ({ value: id as string, words: name })),
  );
  private readonly outcomes = computed((): Option<string>[] =>
    (this.journalRead.value()?.outcomes ?? []).map(({ id, kind, label }) => ({
      value: id,
      words: `${channelLabel[kind]}: ${label}`,
    })),
  );

  templates(channel: 'email' | 'text'): Option<string>[] {
    return (this.templateRead.value()?.templates ?? [])
      .filter((each) => each.channel === channel && !each.isRetired)
      .map(({ id, name }) => ({ value: id as string, words: name }));
  }

  /** Reads what is not known yet. */
  wake(): void {
    this.deals.wake();
    this.people.wake();
    wake(this.templateRead, this.cadenceRead, this.journalRead);
    if (this.user.person()?.role === 'admin') wake(this.hookRead);
  }

  settable(subject: RuleSubject): readonly Settable[] {
    return settableOf(subject, subject === 'agreement' ? [] : this.people.fieldsOf(subject));
  }

  /** The fields of a subject’s list, once they are loaded. */
  columns(subject: RuleSubject): readonly AnyColumn[] {
    return this.specs()[subject]?.columns() ?? [];
  }

  async load(subject: RuleSubject): Promise<void> {
    if (this.specs()[subject] !== undefined) return;
    const spec = makeSpec(await listSpecs[places[subject]](), this.injector);
    const columns = computed(() => columnsOf(spec.fields, spec.customFields(), spec.options()));
    this.specs.update((all) => ({ ...all, [subject]: { columns } }));
  }

  /** Where an event may go, to choose from; null for one that goes nowhere. */
  goals(event: string): readonly Option<string>[] | null {
    switch ((eventsThatGo as Readonly<Record<string, string>>)[event]) {
      case 'standing':
        return this.standings();
      case 'user':
        return this.colleagues();
      case 'stage':
        return this.stages();
      case 'closing':
        return closings;
      case 'outcome':
        return this.outcomes();
      default:
        return null;
    }
  }

  /** @example When a deal was won, if value is more than £5,000: plan a call for its owner in 14 days, “How is it?”. */
  sentence({ subject, when, if: asks, then }: Draft): string {
    const questions = asks === null ? '' : this.sayGroup(asks, subject);
    const acts = then.map((act) => this.sayAct(act, subject)).join('; ');
    return questions === ''
      ? $localize`When ${this.sayWhen(when, subject)}:when:: ${acts}:then:.`
      : $localize`When ${this.sayWhen(when, subject)}:when:, if ${questions}:if:: ${acts}:then:.`;
  }

  private sayWhen(when: RuleWhen, subject: RuleSubject): string {
    const of = ruleSubjectLabel[subject];
    switch (when.kind) {
      case 'event': {
        const goals = this.goals(when.event) ?? [];
        const names = when.to.map((id) => goals.find(({ value }) => value === id)?.words ?? id);
        return names.length === 0
          ? hookEvents[when.event].words
          : saidOf(when.event, names.join($localize` or `));
      }
      case 'date': {
        const name = (ruleDates[subject] as Readonly<Record<string, string>>)[when.date] ?? '';
        const days = Math.abs(when.days);
        if (days === 0) return $localize`${name}:date: of ${of}:what: comes`;
        return when.days < 0
          ? $localize`${name}:date: of ${of}:what: is ${sayDays(days)}:days: ahead`
          : $localize`${name}:date: of ${of}:what: is ${sayDays(days)}:days: past`;
      }
      case 'silence':
        return $localize`nobody had contact with a person for ${sayDays(when.days)}:days:`;
      case 'stage':
        return $localize`a deal is in its stage for ${sayDays(when.days)}:days:`;
    }
  }

  private sayGroup({ join, rules }: FilterGroup, subject: RuleSubject): string {
    const word = join === 'all' ? $localize`and` : $localize`or`;
    return rules
      .map((rule) => ('join' in rule ? `(${this.sayGroup(rule, subject)})` : this.sayQuestion(rule, subject)))
      .join(` ${word} `);
  }

  private sayQuestion(rule: FilterRule, subject: RuleSubject): string {
    const column = this.columns(subject).find(({ key }) => key === rule.field);
    const asked: Readonly<Record<string, string>> = questions[questionKindOf(column?.type ?? 'text')];
    return [column?.name ?? rule.field, asked[rule.ask] ?? rule.ask, this.sayValue(rule, column)]
      .filter(Boolean)
      .join(' ');
  }

  private sayValue({ value }: FilterRule, column: AnyColumn | undefined): string {
    if (value === undefined) return '';
    const named = column?.options?.find((each) => each.value === value)?.name;
    if (named !== undefined) return named;
    if (typeof value === 'number')
      return column?.type === 'money'
        ? sayMoney(minorOf(value, this.user.currency()), this.user.currency())
        : String(value);
    const known = [...this.standings(), ...this.colleagues(), ...this.stages()];
    if (/^\d{4}-\d{2}-\d{2}$/.test(value)) return sayDate(value, this.user.today());
    return known.find((each) => each.value === value)?.words ?? `“${value}”`;
  }

  private nameIn(options: readonly Option<string>[], id: string): string {
    return options.find(({ value }) => value === id)?.words ?? '…';
  }

  private sayWhom(to: readonly string[]): string {
    return to
      .map((each) =>
        each === 'owner'
          ? $localize`its owner`
          : each === 'manager'
            ? $localize`the owner’s manager`
            : this.nameIn(this.colleagues(), each),
      )
      .join(', ');
  }

  private saySetting(
    { field, value, inDays }: Extract<RuleAct, { kind: 'field' }>,
    subject: RuleSubject,
  ): string {
    const known = this.settable(subject).find(({ key }) => key === field);
    const name = known?.name ?? '…';
    if (inDays !== null) return $localize`set ${name}:field: to the day ${sayIn(inDays)}:when:`;
    const said = Array.isArray(value)
      ? value.join(', ')
      : sayCustomValue(value, known?.type ?? 'text', this.user.currency());
    const words = known?.choices.find((each) => each.value === said)?.words ?? said;
    return words === ''
      ? $localize`empty ${name}:field:`
      : $localize`set ${name}:field: to “${words}:value:”`;
  }

  sayAct(act: RuleAct, subject: RuleSubject): string {
    switch (act.kind) {
      case 'task': {
        const whom =
          act.ownerId === null ? $localize`its owner` : this.nameIn(this.colleagues(), act.ownerId);
        return $localize`plan for ${whom}:whom: ${sayIn(act.inDays)}:when: (${channelLabel[act.channel]}:channel:): “${act.purpose}:purpose:”`;
      }
      case 'deal':
        return $localize`add the deal “${act.name}:name:”`;
      case 'field':
        return this.saySetting(act, subject);
      case 'stage':
        return $localize`move it to ${this.nameIn(this.stages(), act.stageId)}:stage:`;
      case 'standing':
        return $localize`standing ${this.nameIn(this.standings(), act.standingId)}:standing:`;
      case 'owner':
        return $localize`give it to ${this.nameIn(this.colleagues(), act.ownerId)}:whom:`;
      case 'tag':
        return act.isTaken ? $localize`take the tag “${act.tag}:tag:” off` : $localize`tag “${act.tag}:tag:”`;
      case 'start-cadence':
        return $localize`start “${this.nameIn(this.cadences(), act.cadenceId)}:cadence:”`;
      case 'stop-cadences':
        return $localize`stop their cadences`;
      case 'notify':
        return $localize`tell ${this.sayWhom(act.to)}:whom: “${act.words}:words:”`;
      case 'write':
        return $localize`write to ${this.sayWhom(act.to)}:whom: “${act.subject}:subject:”`;
      case 'renewal':
        return $localize`begin the renewal`;
      case 'mail': {
        const name = this.nameIn(this.templates('email'), act.templateId);
        return act.to === 'contact'
          ? $localize`mail “${name}:template:” to the person`
          : $localize`mail “${name}:template:” to its owner`;
      }
      case 'text':
        return $localize`text “${this.nameIn(this.templates('text'), act.templateId)}:template:” to the person`;
      case 'hook':
        return $localize`tell the web hook “${this.nameIn(this.hooks(), act.hookId)}:name:”`;
    }
  }
}
