import { CdkDrag, CdkDropList } from '@angular/cdk/drag-drop';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { Channel, JournalSettings, Outcome, StandingGroup, TouchRule } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { channelKindOf } from '@kettle/contract/base/channels';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { Conflicts } from '../../kit/conflicts';
import { Submission } from '../../kit/submission';
import { reading } from '../../api/reading';
import { labelled, named, type Option, pageFormParts } from '../../kit/form';
import { moved, OrderHandle } from '../../kit/order-handle';
import { Undo } from '../../services/undo';
import { PeopleWords } from '../fields/index';
import { WordPipe, wordOf } from '../../kit/value-words';

type Draft = Omit<JournalSettings, 'outcomes'> & {
  outcomes: (Omit<Outcome, 'standingId'> & { standingId: string | null })[];
};
type Reach = 'all' | 'none' | 'some' | 'group';

const rules: Readonly<Record<Outcome['rule'], string>> = {
  'follow-up': $localize`follow up in three working days`,
  retry: $localize`try again at another time of day`,
  'same-day': $localize`again the same day`,
  'await-answer': $localize`wait three working days, then call`,
  'agree-new-date': $localize`agree a new date`,
  'fix-details': $localize`find the right number or address`,
  nothing: $localize`nothing more`,
};

/** Outcomes by kind with what each means, what counts as a touch, checklists of meetings and visits, standings by source. */
@Component({
  selector: 'kettle-journal-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    WordPipe,
    CdkDrag,
    CdkDropList,
    OrderHandle,
    pageFormParts,
    MatCheckboxModule,
    MatButtonModule,
    Conflicts,
  ],
  templateUrl: './journal-settings.html',
  styleUrl: './settings-part.scss',
  styles: `
    :host {
      max-inline-size: 1000px;
    }
    .row.outcome {
      grid-template-columns: auto 1.3fr 128px 80px 1.4fr 1fr 90px auto;
    }
    .row.touch {
      grid-template-columns: 1fr 1.4fr 2fr;
      align-items: start;
    }
    .row.source {
      grid-template-columns: 1fr 1fr auto;
    }
  `,
})
export class JournalSettingsPart {
  protected readonly texts = {
    triesThatCountFor: (group: string | number) => $localize`Tries that count for ${group}:group:`,
    triesThatCountFor2: (name: string | number) => $localize`Tries that count for ${name}:name:`,
  };

  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  protected readonly words = inject(PeopleWords);
  private readonly loaded = reading((_: null) => this.api.call('journalSettings'));
  protected readonly draft = signal<Draft | null>(null);
  protected readonly saving = new Submission();
  protected readonly kind = signal<Channel>('call');
  protected readonly isMet = computed(() => channelKindOf(this.kind()).isMet === true);
  protected readonly labels = channelLabel;
  protected readonly kinds = Object.keys(channelLabel) as Channel[];
  protected readonly rules = labelled(rules);
  protected readonly countings = labelled({
    conversation: wordOf('conversation'),
    attempt: wordOf('attempt'),
    none: $localize`neither`,
  });
  protected readonly directions = labelled({ out: wordOf('us'), in: wordOf('them') });
  protected readonly reaches = labelled({
    all: $localize`every try`,
    none: $localize`no try`,
    some: $localize`some tries`,
  });
  protected readonly ownReaches = labelled({
    group: $localize`as its group`,
    all: $localize`every try`,
    none: $localize`no try`,
    some: $localize`some tries`,
  });
  protected readonly standings = computed(() =>
    named(this.words.standings().map(({ standing }) => standing)),
  );
  protected readonly becomes = computed((): Option<string | null>[] => [
    { value: null, words: $localize`as it is` },
    ...this.standings(),
  ]);
  protected readonly groups: readonly StandingGroup[] = ['prospect', 'customer', 'former'];
  protected readonly shown = computed(
    () => this.draft()?.outcomes.filter((each) => each.kind === this.kind()) ?? [],
  );
  protected readonly tries = computed(
    () => this.draft()?.outcomes.filter((each) => each.counts === 'attempt') ?? [],
  );

  constructor() {
    this.words.wake();
    this.loaded.read(null);
    effect(() => {
      const read = this.loaded.value();
      untracked(() => this.draft.set(read === null ? null : structuredClone(read)));
    });
  }

  /** What an outcome was refused for. */
  protected wrongOf(outcome: Draft['outcomes'][number], field: string): string | null {
    const at = this.draft()?.outcomes.indexOf(outcome) ?? -1;
    return this.saving.problem()?.of(`outcomes.${at}.${field}`) ?? null;
  }

  protected add(): void {
    const draft = this.draft();
    if (draft === null) return;
    const taken = new Set(draft.outcomes.map((each) => each.id));
    const letters = 'abcdefghijklmnopqrstuvwxyz'.split('');
    const id = letters.map((letter) => `${this.kind()}-own-${letter}`).find((each) => !taken.has(each)) ?? '';
    draft.outcomes = [
      ...draft.outcomes,
      {
        id,
        kind: this.kind(),
        direction: 'out',
        label: '',
        counts: 'attempt',
        endsRun: false,
        rule: 'follow-up',
        standingId: null,
      },
    ];
    this.draft.set({ ...draft });
  }

  /** Among those of its kind; the others stay where they are. */
  protected move(from: number, to: number): void {
    const draft = this.draft();
    if (draft === null) return;
    const ordered = moved(this.shown(), from, to);
    const outcomes = draft.outcomes.map((each) => (each.kind === this.kind() ? ordered.shift()! : each));
    this.draft.set({ ...draft, outcomes });
  }

  protected remove(id: string): void {
    const draft = this.draft();
    if (draft) this.draft.set({ ...draft, outcomes: draft.outcomes.filter((each) => each.id !== id) });
  }

  protected checklist(): string {
    return (this.draft()?.checklists[this.kind()] ?? []).join('\n');
  }

  protected setChecklist(text: string): void {
    const draft = this.draft();
    const lines = text
      .split('\n')
      .map((line) => line.trim())
      .filter(Boolean);
    if (draft) this.draft.set({ ...draft, checklists: { ...draft.checklists, [this.kind()]: lines } });
  }

  protected ruleOf(group: StandingGroup | null, standing: string | null): TouchRule | undefined {
    const policy = this.draft()?.touchPolicy;
    return group !== null ? policy?.groups[group] : policy?.standings[standing ?? ''];
  }

  protected reachOf(rule: TouchRule | undefined): Reach {
    if (rule === undefined) return 'group';
    return Array.isArray(rule) ? 'some' : rule;
  }

  protected setReach(group: StandingGroup | null, standing: string | null, reach: string): void {
    this.setRule(
      group,
      standing,
      reach === 'group' ? undefined : reach === 'some' ? [] : (reach as TouchRule),
    );
  }

  protected toggle(group: StandingGroup | null, standing: string | null, outcomeId: string): void {
    const rule = this.ruleOf(group, standing);
    if (!Array.isArray(rule)) return;
    const next = rule.includes(outcomeId) ? rule.filter((id) => id !== outcomeId) : [...rule, outcomeId];
    this.setRule(group, standing, next);
  }

  protected isAmong(rule: TouchRule | undefined, outcomeId: string): boolean {
    return Array.isArray(rule) && rule.includes(outcomeId);
  }

  private setRule(group: StandingGroup | null, standing: string | null, rule: TouchRule | undefined): void {
    const draft = this.draft();
    if (draft === null) return;
    const { groups, standings } = draft.touchPolicy;
    const touchPolicy =
      group !== null
        ? { groups: { ...groups, [group]: rule ?? 'all' }, standings }
        : { groups, standings: withRule(standings, standing ?? '', rule) };
    this.draft.set({ ...draft, touchPolicy });
  }

  protected addSource(): void {
    const draft = this.draft();
    const standingId = this.words.standings()[0]?.standing.id;
    if (draft && standingId)
      this.draft.set({ ...draft, standingBySource: [...draft.standingBySource, { source: '', standingId }] });
  }

  protected removeSource(at: number): void {
    const draft = this.draft();
    if (draft)
      this.draft.set({
        ...draft,
        standingBySource: draft.standingBySource.filter((_, index) => index !== at),
      });
  }

  protected save(): void {
    const draft = this.draft();
    if (draft === null) return;
    const changeId = v7();
    this.saving.send(
      draft,
      (body) => this.api.call('changeJournalSettings', { body: body as JournalSettings }, changeId),
      () => {
        this.loaded.again();
        const words = $localize`Saved. Where the rules changed, last touches are counted again in the background.`;
        this.undo.offer(words, changeId, () => this.loaded.again());
      },
    );
  }
}

function withRule(
  standings: Readonly<Record<string, TouchRule>>,
  id: string,
  rule: TouchRule | undefined,
): Record<string, TouchRule> {
  const rest = Object.fromEntries(Object.entries(standings).filter(([key]) => key !== id));
  return rule === undefined ? rest : { ...rest, [id]: rule };
}
