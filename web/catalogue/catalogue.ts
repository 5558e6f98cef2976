import { CdkDrag, CdkDropList } from '@angular/cdk/drag-drop';
import { NgTemplateOutlet } from '@angular/common';
import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatButtonToggleModule } from '@angular/material/button-toggle';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { MatRadioModule } from '@angular/material/radio';
import { MatTabsModule } from '@angular/material/tabs';
import type { Session } from '@kettle/contract';
import { ApiProblem } from '../src/api/api';
import { ChartView } from '../src/kit/chart';
import { DayField } from '../src/kit/day-field';
import { DayProposals } from '../src/kit/day-proposals';
import { FileField } from '../src/kit/file-field';
import { field, formParts, named, pageFormParts, RecordForm, required } from '../src/kit/form';
import { LightField } from '../src/kit/light-field';
import { ProposedField } from '../src/kit/proposed-field';
import { StepDay } from '../src/kit/step-day';
import { WhyNot } from '../src/kit/why-not';
import { KeyHint } from '../src/kit/key-hint';
import { LongChoiceField } from '../src/kit/long-choice-field';
import { MomentField } from '../src/kit/moment-field';
import { moved, OrderHandle } from '../src/kit/order-handle';
import { ExplainedWord } from '../src/kit/own-word';
import { PhoneField } from '../src/kit/phone-field';
import { countryOptions } from '../src/kit/places';
import { Empty, Failed, Waiting } from '../src/kit/states';
import { tableParts } from '../src/kit/table';
import { TagsField } from '../src/kit/tags-field';
import { Tether } from '../src/kit/tether';
import { TimeField } from '../src/kit/time-field';
import { WordMark } from '../src/kit/word-mark';
import { CurrentUser } from '../src/services/current-user';
import { Keys } from '../src/services/keys';
import { Notices } from '../src/services/notices';
import { CatalogueDialog } from './catalogue-dialog';

const states = ['empty', 'filled', 'missing', 'refused', 'off'] as const;
type State = (typeof states)[number];

/** One control of a kind in each state. */
function inEach<Value>(
  filled: Value,
  empty: Value,
): readonly (readonly [State, ReturnType<typeof formOf<Value>>])[] {
  return states.map((state) => [state, formOf(state, filled, empty)] as const);
}

function formOf<Value>(state: State, filled: Value, empty: Value) {
  const value = state === 'empty' || state === 'missing' ? empty : filled;
  const form = new RecordForm({ value: state === 'missing' ? required(value) : field(value) });
  if (state === 'missing') form.markAllAsTouched();
  if (state === 'off') form.disable();
  if (state === 'refused')
    form.submission.refuse(
      new ApiProblem('invalid-request', 'Check the marked fields.', [
        { path: 'value', message: 'is taken already' },
      ]),
    );
  return form;
}

/** Every part of the kit in every state, light beside dark. Nothing here speaks to a server. */
@Component({
  selector: 'kettle-catalogue',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    NgTemplateOutlet,
    ProposedField,
    ...[LightField, StepDay, WhyNot],
    ...[CdkDrag, CdkDropList, MatButtonModule, MatButtonToggleModule, MatCheckboxModule, MatIcon],
    ...[MatMenuModule, MatProgressBarModule, MatRadioModule, MatTabsModule],
    ...[formParts, pageFormParts, DayField, DayProposals, FileField, KeyHint, MomentField, OrderHandle],
    ...[
      tableParts,
      ChartView,
      LongChoiceField,
      ExplainedWord,
      Empty,
      Failed,
      PhoneField,
      Waiting,
      TagsField,
      Tether,
      TimeField,
      WordMark,
    ],
  ],
  templateUrl: './catalogue.html',
  styleUrl: './catalogue.scss',
})
export class Catalogue {
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  readonly themes = input<readonly ('light' | 'dark')[]>(['light', 'dark']);
  protected readonly states = states;
  protected readonly text = inEach('Softener, twin column', '');
  protected readonly light = inEach('ada@hollinbeck.example', '');
  protected readonly lines = inEach('Asked about the notice period\nand whether the price holds.', '');
  protected readonly choice = inEach<string | null>('b', null);
  protected readonly money = inEach<number | null>(440_000, null);
  protected readonly percent = inEach<number | null>(0.3, null);
  protected readonly phone = inEach('+441632960012', '');
  protected readonly country = inEach('PT', '');
  protected readonly countries = countryOptions();
  protected readonly cadences = [
    { name: 'First contact', steps: 6, waits: null },
    { name: 'After the water test', steps: 6, waits: 'A new version waits for release by Dara Finch.' },
  ];
  protected readonly quarters = ['Q1', 'Q2', 'Q3', 'Q4'];
  protected readonly won = [
    { name: 'won', values: [12, 19, 9, 14] },
    { name: 'lost', values: [5, 3, 8, 6] },
    { name: 'open', values: [2, 4, null, 9] },
  ];
  protected readonly share = [{ name: 'answered', values: [0, 0.1, 0.24, 0.24, 0.41] }];
  protected readonly weeks = ['0', '1', '2', '3', '4'];
  protected readonly inPercent = (value: number): string => `${Math.round(value * 100)} %`;
  protected readonly pressed = signal('');
  protected readonly noCadences: readonly { readonly name: string }[] = [];
  protected readonly days = inEach<number | null>(90, null);
  protected readonly day = inEach('2026-12-05', '');
  protected readonly time = inEach('09:30', '');
  protected readonly moment = inEach('2026-12-03T14:00', '');
  protected readonly tags = inEach<readonly string[]>(['hard water', 'two shifts'], []);
  protected readonly standings = [
    {
      group: 'Customers',
      options: named([
        { id: 'a', name: 'Customer' },
        { id: 'b', name: 'Key customer' },
      ]),
    },
    { group: 'Prospects', options: named([{ id: 'c', name: 'New' }]) },
  ];
  protected readonly proposals = ['Softener, single column', 'Softener, twin column', 'Dosing set'];
  protected readonly rows = signal(['Inquiry', 'Survey', 'Offer']);
  protected readonly page = new RecordForm({ name: required(''), share: field(true) });
  protected readonly problem = new ApiProblem(
    'offline',
    'The server cannot be reached. Try again in a moment.',
  );
  protected readonly today = '2026-12-03';
  protected readonly tethers = [
    ['late', '2026-11-24T10:00:00Z', '2026-12-01'],
    ['due today', '2026-11-30T10:00:00Z', '2026-12-03'],
    ['held', '2026-12-01T10:00:00Z', '2026-12-08'],
    ['loose', '2026-11-20T10:00:00Z', null],
    ['never touched', null, null],
  ].map(([words, lastTouchAt, nextStepOn]) => ({
    words,
    facts: {
      ...{ lastTouchAt, lastTouchKind: 'call', lastTouchCounts: 'conversation' },
      ...{ nextStepOn, nextStepChannel: 'call' },
      nextStepAt: null,
    } as never,
  }));

  constructor() {
    inject(CurrentUser).enter({
      person: {
        ...{ id: 'me', name: 'Imogen Thorne', email: 'imogen@hollinbeck.example', role: 'rep', version: 1 },
        ...{
          zone: 'Europe/London',
          country: 'GB',
          hours: { weekdays: [1, 2, 3, 4, 5], start: 540, end: 1020 },
        },
      },
      ...{ now: '2026-12-03T09:10:00.000Z', currency: 'GBP', currencies: ['GBP'], lastChange: null },
      rights: { changes: [], exports: true, releases: true },
      ...{ needsSecondFactor: false, demoAccounts: 0 },
    } as unknown as Session);
    inject(Keys).bind({ keys: 't', words: 'Plan a task with whoever is open', act: () => this.tell() });
  }

  protected move(from: number, to: number): void {
    this.rows.update((rows) => moved(rows, from, to));
  }

  protected tell(): void {
    this.notices.say('Planned: call, Thu 10 Dec.');
  }

  protected open(): void {
    this.dialog.open(CatalogueDialog, { width: '480px' });
  }
}
