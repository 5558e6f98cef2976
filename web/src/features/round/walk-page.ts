import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  type ElementRef,
  inject,
  Injector,
  input,
  linkedSignal,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { Router, RouterLink } from '@angular/router';
import type {
  CallOf,
  CandidateKind,
  Channel,
  LogEntry,
  OutcomeChoice,
  PhoneCall,
  RoundRow,
  TaskId,
  UserId,
  WalkItem,
} from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { channelNames } from '@kettle/contract/base/channels';
import { localMoment, minutesBetween } from '@kettle/core/time';
import { v7 } from 'uuid';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { fieldParts } from '../../kit/field';
import { MomentField } from '../../kit/moment-field';
import { onPhone } from '../../kit/on-phone';
import { SharePipe, CountPipe, DayPipe, MoneyPipe } from '../../kit/say.pipes';
import { Empty, Failed, Waiting } from '../../kit/states';
import { Tether } from '../../kit/tether';
import { Drafts } from '../../services/drafts';
import { CurrentUser } from '../../services/current-user';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import { Origin } from '../../services/origin';
import { AnswerLine, PersonPicker } from '../fields/index';
import { JournalLines } from '../dossier/index';
import { openWrite } from '../mail/index';
import { type NextStepDraft, NextStepForm } from '../tasks/index';
import { PhoneLine } from './phone-line';
import { Undo } from '../../services/undo';
import { type RoundFilter, RoundStore } from './round.store';
import { WalkLists } from '../../services/walk-lists';
import { WalkTally } from '../../services/walk-tally';

const written = [
  { channel: 'email', words: $localize`Write a mail` },
  { channel: 'text', words: $localize`Write a text` },
] as const;

interface WalkDraft {
  readonly outcomeId: string | null;
  readonly next: NextStepDraft | null;
  readonly minutes: number | null;
  readonly happened: string;
  readonly tookPlace: boolean | null;
  readonly done: readonly string[];
}
const noDraft: WalkDraft = {
  ...{ outcomeId: null, next: null, minutes: null, happened: '', tookPlace: null, done: [] },
};

interface Asked {
  readonly subject: string;
  readonly item: WalkItem | null;
}

/** What takes its time while it is on screen; what is written is timed by nobody. */
const spokenBy: ReadonlySet<Channel> = new Set<Channel>(['call', 'visit', 'meeting']);
const mostLikelyMinutes = 15;
const nobody: readonly { id: string; name: string }[] = [];

/** One item fills the screen: who and why at the left; the act, its outcome and the proposed next step at the right. */
@Component({
  selector: 'kettle-walk-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    SharePipe,
    CountPipe,
    AnswerLine,
    MomentField,
    fieldParts,
    MatCheckboxModule,
    MatButtonModule,
    MatIcon,
    RouterLink,
    Tether,
    DayPipe,
    MoneyPipe,
    Empty,
    Failed,
    Waiting,
    JournalLines,
    PersonPicker,
    NextStepForm,
    PhoneLine,
  ],
  templateUrl: './walk-page.html',
  styleUrl: './walk-page.scss',
})
export class WalkPage {
  protected readonly texts = {
    days: $localize`day|days`,
    whatWasSaid: $localize`What was said`,
    whatWasSaidEnter: $localize`What was said. Enter saves, Shift and Enter breaks the line.`,
    without: (name: string | number) => $localize`Without ${name}:name:`,
  };

  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly drafts = inject(Drafts);
  private readonly origin = inject(Origin);
  private readonly injector = inject(Injector);
  private readonly lists = inject(WalkLists);
  private readonly tally = inject(WalkTally);
  private readonly changeUndo = inject(Undo);
  protected readonly store = inject(RoundStore);
  protected readonly user = inject(CurrentUser);

  /** The row of the Round that is walked, or a person to log something about outside it. */
  readonly key = input<string>();
  readonly contact = input<string>();
  readonly deal = input<string>();
  readonly by = input<Channel>();
  /** The task that the log finishes, when one outside the Round is logged. */
  readonly task = input<string>();
  /** What the walk is narrowed to, as the Round was: kept in the address, so that a reload goes on in it. */
  readonly only = input<Channel>();
  readonly due = input<'late' | 'today' | 'tomorrow'>();
  readonly from = input<CandidateKind>();
  /** Whose Round is walked, where it is not one's own. */
  readonly of = input<UserId>();
  /** One step that was opened by its link: once it is logged, one is back where one came from. */
  readonly alone = input<'yes'>();
  /** How many were done in this walk: what is done leaves the Round, and the count goes on. */
  readonly walked = input(0, { transform: (text: unknown) => Math.max(0, Math.trunc(Number(text)) || 0) });
  /** A walk through chosen records, and where in it. */
  readonly list = input<string>();
  readonly at = input(0, { transform: (text: unknown) => Math.max(0, Math.trunc(Number(text)) || 0) });
  protected readonly chosenList = computed(() => {
    const id = this.list();
    return id === undefined ? null : this.lists.read(id);
  });
  private readonly stop = computed(() => this.chosenList()?.stops[this.at()] ?? null);
  /** Whom it is about outside the Round: a stop of a list, or what the address says. */
  protected readonly about = computed(() => {
    const stop = this.stop();
    return stop === null
      ? { contact: this.contact(), deal: this.deal(), by: this.by(), task: this.task() }
      : {
          contact: stop.contactId as string,
          deal: stop.dealId ?? undefined,
          by: stop.channel,
          task: stop.taskId ?? undefined,
        };
  });
  protected readonly filter = computed((): RoundFilter => ({
    channel: this.only(),
    due: this.due(),
    kind: this.from(),
    owner: this.of(),
  }));

  protected readonly isOnPhone = onPhone();
  /** On a phone only the outcome that was chosen stays, so that the next step and the save are on the same screen. */
  protected readonly isChoosing = linkedSignal({ source: () => this.chosen(), computation: () => false });
  protected readonly isNarrowed = computed(
    () => this.isOnPhone() && this.chosen() !== null && !this.isChoosing(),
  );
  protected readonly labels = channelLabel;
  protected readonly channels = channelNames;
  protected readonly written = written;
  private readonly line = viewChild(PhoneLine);
  private readonly note = viewChild<ElementRef<HTMLTextAreaElement>>('note');

  /** The row stays while it is worked on, also when the Round behind it changes. */
  protected readonly row = linkedSignal<{ key: string | undefined; found: RoundRow | null }, RoundRow | null>(
    {
      source: () => ({ key: this.key(), found: this.store.byKey(this.key() ?? null) }),
      computation: ({ key, found }, before) =>
        found ?? (before?.source.key === key ? (before?.value ?? null) : null),
    },
  );
  /** A step that is no row of its own: shown with another of the same person, or further down than was read. */
  private readonly stray = computed(() => {
    const key = this.key();
    const isStray = this.store.state().kind === 'ready' && this.row() === null;
    return isStray && key?.startsWith('task:') ? key.slice('task:'.length) : null;
  });
  protected readonly strayRead = reading((taskId: string) =>
    this.api.call('walkItem', { query: { taskId: taskId as TaskId } }),
  );
  /** What was asked for is in the Round no more, and not open either. */
  protected readonly isOver = computed(() => {
    if (this.store.state().kind !== 'ready' || !this.key() || this.row() !== null) return false;
    const read = this.strayRead.state();
    if (this.stray() === null) return true;
    return read.kind === 'failed'
      ? read.problem.code === 'not-found'
      : read.kind === 'ready' && !read.value.task;
  });
  private readonly draftKey = computed(() => {
    const { task, contact } = this.about();
    return `walk.${this.key() ?? (task ? `task:${task}` : (contact ?? ''))}`;
  });
  /** What the person chose stays while the Round is read again; another subject begins as it is planned. */
  protected readonly channel = linkedSignal<{ subject: string; planned: Channel }, Channel>({
    source: () => ({
      subject: this.draftKey(),
      planned: this.about().by ?? this.row()?.channel ?? 'call',
    }),
    computation: (now, before) =>
      before?.source.subject === now.subject && before.source.planned === now.planned
        ? before.value
        : now.planned,
  });
  protected readonly item = reading((query: CallOf<'walkItem'>['query']) =>
    this.api.call('walkItem', { query }),
  );
  /** The item on screen: only what belongs to this person, never the one before while the next is on its way. */
  protected readonly shown = computed((): WalkItem | null => {
    const item = this.item.value();
    return item?.contact.id === (this.row()?.contactId ?? this.about().contact) ? item : null;
  });
  /** The same once it is what was asked for last: with another channel come other outcomes. */
  protected readonly ready = computed(() => (this.item.state().kind === 'ready' ? this.shown() : null));
  private readonly formKey = computed(() => `${this.draftKey()}.form`);
  /** What was chosen and typed of the subject before a reload. */
  private readonly drafted = computed((): WalkDraft => ({
    ...noDraft,
    ...this.drafts.readForm<WalkDraft>(this.formKey()),
  }));
  /** A number pressed before the item was there counts once it is; so does Enter when only the channel is another. */
  private early: number | null = null;
  private readonly isEnterEarly = linkedSignal<string, boolean>({
    source: this.draftKey,
    computation: () => false,
  });
  /** Of whom, by which channel, and what is known of it; read anew, it is another item of the same subject. */
  private readonly asked = computed(() => ({
    subject: `${this.draftKey()} ${this.channel()}`,
    item: this.ready(),
  }));
  /** What was chosen stays while the item is read anew: an Enter after it must never dial instead of saving. */
  protected readonly chosen = linkedSignal<Asked, OutcomeChoice | null>({
    source: this.asked,
    computation: ({ subject, item }, before) => {
      const isSame = before?.source.subject === subject;
      const chosen = isSame ? before.value : null;
      if (item === null) return chosen;
      // The first time it is there, what was chosen before a reload.
      if (chosen === null && !(isSame && before.source.item !== null)) {
        const drafted = item.choices.find(({ outcome }) => outcome.id === this.drafted().outcomeId);
        if (drafted && this.early === null) return drafted;
      }
      if (this.early !== null && !item.asksWhetherHeld) {
        const early = this.early;
        this.early = null;
        return item.choices[early] ?? null;
      }
      return item.choices.find(({ outcome }) => outcome.id === chosen?.outcome.id) ?? null;
    },
  });
  /** Whether a meeting or visit took place; null until that is said. */
  protected readonly tookPlace = linkedSignal<Asked, boolean | null>({
    source: this.asked,
    computation: ({ subject }, before) =>
      before?.source.subject === subject ? before.value : this.drafted().tookPlace,
  });
  /** Outcomes that can be chosen now: all, or those of what took place, or of what did not. */
  protected readonly choices = computed((): readonly OutcomeChoice[] => {
    const item = this.ready();
    if (!item?.asksWhetherHeld) return item?.choices ?? [];
    const held = this.tookPlace();
    return held === null
      ? []
      : item.choices.filter(({ outcome }) => (outcome.counts === 'conversation') === held);
  });
  protected readonly done = linkedSignal<string, ReadonlySet<string>>({
    source: this.draftKey,
    computation: () => new Set(this.drafted().done),
  });
  /** The planned step that is said to be logged outside the Round; null is none of them, undefined is whichever is likely. */
  private readonly said = linkedSignal<string, string | null | undefined>({
    source: this.draftKey,
    computation: () => this.about().task,
  });
  /** The planned step that the log finishes. */
  protected readonly picked = computed(() => this.ready()?.task?.id ?? null);
  /** Outside the Round, what is planned with the person: was it one of these? */
  protected readonly planned = computed((): WalkItem['planned'] =>
    this.row() === null && this.about().task === undefined ? (this.shown()?.planned ?? []) : [],
  );
  /** What is to be done, of the row or of the one step that was opened. */
  protected readonly purpose = computed(
    () =>
      this.row()?.purpose ??
      this.shown()?.planned.find(({ id }) => id === this.about().task)?.purpose ??
      null,
  );
  protected readonly minutes = linkedSignal<string, number | null>({
    source: this.draftKey,
    computation: () => this.drafted().minutes,
  });
  protected readonly happened = linkedSignal<string, string>({
    source: this.draftKey,
    computation: () => this.drafted().happened,
  });
  /** Who else was there: whoever was to come, until somebody says otherwise. */
  protected readonly also = linkedSignal<
    { readonly key: string; readonly guests: readonly { id: string; name: string }[] },
    readonly { id: string; name: string }[]
  >({
    source: () => ({ key: this.draftKey(), guests: this.meeting()?.guests ?? nobody }),
    computation: ({ key, guests }, before) =>
      before?.source.key === key && before.value !== before.source.guests ? before.value : guests,
  });
  /** When and where they meet, of a step that is an appointment. */
  protected readonly meeting = computed(() => this.shown()?.appointment ?? null);
  protected readonly next = linkedSignal<OutcomeChoice | null, NextStepDraft | null>({
    source: this.chosen,
    computation: (choice, before) => {
      if (choice === null) return null;
      const drafted = this.drafted();
      if (!before && drafted.next !== null && drafted.outcomeId === choice.outcome.id) return drafted.next;
      const was = before?.source;
      const isTyped =
        was?.outcome.id === choice.outcome.id &&
        JSON.stringify(before?.value) !== JSON.stringify({ ...was.proposal.step });
      return isTyped ? (before?.value ?? null) : { ...choice.proposal.step };
    },
  });
  /** What is kept of it: null while nothing was chosen. */
  private readonly form = computed((): WalkDraft | null => {
    const choice = this.chosen();
    const [minutes, happened, tookPlace] = [this.minutes(), this.happened(), this.tookPlace()];
    if (choice === null && minutes === null && happened === '' && tookPlace === null) return null;
    const [outcomeId, next, done] = [choice?.outcome.id ?? null, this.next(), [...this.done()]];
    return { outcomeId, next, minutes, happened, tookPlace, done };
  });
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly isSaving = signal(false);
  protected readonly text = linkedSignal(() => this.drafts.read(this.draftKey()));
  protected readonly place = computed(() => {
    const list = this.chosenList();
    if (list !== null) return { at: this.at() + 1, of: list.stops.length, title: list.title };
    const at = this.store.rows().findIndex((row) => row.key === this.key());
    const done = this.walked();
    return at < 0
      ? null
      : {
          at: at + 1 + done,
          of: this.store.rows().length + (this.store.round()?.more ?? 0) + done,
          title: $localize`today’s round`,
        };
  });
  private readonly trail = signal<readonly string[]>([]);
  protected readonly canGoBack = computed(
    () => this.trail().length > 0 || (this.chosenList() !== null && this.at() > 0),
  );
  /** Why it is due, wherever one came from. */
  protected readonly why = computed(() => {
    const { task } = this.about();
    return this.row() ?? this.store.rows().find(({ taskId }) => taskId !== null && taskId === task) ?? null;
  });
  /** The step that was to be walked to is done, by whomever. */
  protected readonly wasDone = computed(
    () => (this.stop()?.taskId ?? null) !== null && this.ready()?.task === null,
  );
  /** When the subject came on screen, by the page's own clock: how long it takes. */
  private since = performance.now();
  /** Made once for what is being logged, so that a save repeated after a lost answer writes nothing twice. */
  private entryId = v7();

  constructor() {
    effect(() => {
      const filter = this.filter();
      untracked(() => this.store.showUnless(filter));
    });
    // Without a row the walk begins with the first.
    effect(() => {
      const first = this.store.rows()[0];
      if (this.key() || this.about().contact || this.list() || !first) return;
      untracked(() => this.go({ key: first.key }, true));
    });
    effect(() => {
      const stray = this.stray();
      untracked(() => {
        if (stray !== null) this.strayRead.read(stray);
      });
    });
    effect(() => {
      const found = this.strayRead.value();
      const task = this.stray();
      if (!found?.task || found.task.id !== task) return;
      const query = { key: null, contact: found.contact.id, by: found.channel, task };
      untracked(() => this.go(query, true));
    });
    effect(() => {
      const query = this.query();
      untracked(() => {
        if (query !== null) this.item.read(query);
      });
    });
    effect(() => {
      // Another subject: what was said of the one before does not hold for it.
      this.draftKey();
      untracked(() => {
        this.problem.set(null);
        this.early = null;
        this.entryId = v7();
        this.since = performance.now();
      });
    });
    // What was chosen and typed survives a reload.
    effect(() => {
      const key = this.formKey();
      const form = this.form();
      if (this.ready() !== null) untracked(() => this.drafts.keepForm(key, form));
    });
    if (untracked(this.walked) === 0 && untracked(this.at) === 0) this.tally.begin();
    afterRenderEffect(() => {
      if (this.ready() === null || !untracked(this.isEnterEarly)) return;
      this.isEnterEarly.set(false);
      untracked(() => this.enter());
    });
    inject(Keys).bind(
      ...Array.from({ length: 9 }, (_, index) => ({
        keys: String(index + 1),
        words: $localize`Outcome ${index + 1}`,
        act: () => this.choose(index),
      })),
      {
        keys: 'Enter',
        words: $localize`Do the act; with an outcome, save and bring the next`,
        act: () => this.enter(),
      },
      { keys: 'n', words: $localize`Write a note`, act: () => this.note()?.nativeElement.focus() },
      { keys: 'b', words: $localize`Back to the one before`, act: () => this.back() },
      { keys: 's', words: $localize`Skip to the next`, act: () => this.goOn() },
      {
        keys: 'd',
        words: $localize`Move it to another day`,
        act: () => void this.defer(),
        applies: () => this.canDefer(),
      },
      { keys: 'y', words: $localize`It was the planned step, or not`, act: () => this.pickNext() },
      { keys: 'c', words: $localize`Log a call`, act: () => this.channel.set('call') },
      { keys: 'm', words: $localize`Log an e-mail`, act: () => this.channel.set('email') },
    );
  }

  /** The same question is not asked again: the item read anew would drop what was chosen for it. */
  private readonly query = computed<CallOf<'walkItem'>['query'] | null>(
    () => {
      const row = this.row();
      const channel = this.channel();
      if (row !== null)
        return {
          channel,
          taskId: row.taskId ?? undefined,
          contactId: row.contactId ?? undefined,
          dealId: row.dealId ?? undefined,
        };
      const { contact: contactId, deal } = this.about();
      const said = this.said();
      const planned = said === undefined ? ('likely' as const) : undefined;
      return contactId ? { channel, contactId, dealId: deal, taskId: said ?? undefined, planned } : null;
    },
    { equal: (one, other) => JSON.stringify(one) === JSON.stringify(other) },
  );

  /** Without an outcome the key begins the act itself: the call, the mail or the text. */
  private enter(): void {
    // Only for the person on screen: a second Enter after a save must not dial whoever comes next.
    if (this.ready() === null) return this.isEnterEarly.set(this.shown() !== null);
    const channel = this.channel();
    if (this.chosen() !== null) this.save();
    else if (channel === 'call') this.line()?.dial();
    else if ((channel === 'email' || channel === 'text') && this.canWrite(channel)) this.write(channel);
  }

  protected canWrite(channel: 'email' | 'text'): boolean {
    const contact = this.shown()?.contact;
    return this.mayUse(channel) && Boolean(channel === 'email' ? contact?.email : contact?.phone);
  }

  protected write(channel: 'email' | 'text'): void {
    const item = this.shown();
    if (item === null) return;
    const row = this.row();
    const { id: contactId, name } = item.contact;
    const taskId = row?.taskId ?? item.task?.id;
    openWrite(this.dialog, { channel, contactId, name, dealId: item.deal?.id, taskId }).subscribe((sent) => {
      if (sent === undefined) return;
      this.tally.add({
        ...{ id: v7(), name, outcome: $localize`written`, counts: 'attempt' },
        ...{ plannedMinutes: this.plannedMinutes(), takenMinutes: null },
      });
      this.leave(row);
    });
  }

  /** What the line tells of a call fills in its outcome and length; both can be changed before saving. */
  protected onCallEnded({ outcomeId, seconds }: PhoneCall): void {
    const choice = this.ready()?.choices.find(({ outcome }) => outcome.id === outcomeId);
    if (choice) this.chosen.set(choice);
    if (seconds !== null && seconds > 0) this.minutes.set(Math.max(1, Math.round(seconds / 60)));
  }

  protected choose(index: number): void {
    const item = this.ready();
    if (item === null) {
      this.early = index;
      return;
    }
    if (item.asksWhetherHeld && this.tookPlace() === null) return this.tellWhetherHeld(index === 0);
    const choice = this.choices()[index];
    if (choice) this.chosen.set(choice);
  }

  /** Where only one outcome is left after the answer, it is the one. */
  protected tellWhetherHeld(isHeld: boolean): void {
    this.tookPlace.set(isHeld);
    const met = this.meeting();
    if (isHeld && met !== null && this.minutes() === null)
      this.minutes.set(minutesBetween(met.startsAt, met.endsAt));
    const [only, ...others] = this.choices();
    this.chosen.set(only !== undefined && others.length === 0 ? only : null);
  }

  /** From one planned step to the next, and to none of them. */
  private pickNext(): void {
    const ids = [...this.planned().map(({ id }): string | null => id), null];
    if (ids.length > 1) this.pick(ids[(ids.indexOf(this.picked()) + 1) % ids.length]!);
  }

  protected pick(id: string | null): void {
    this.said.set(id);
  }

  protected tick(line: string): void {
    const next = new Set(this.done());
    if (!next.delete(line)) next.add(line);
    this.done.set(next);
  }

  protected addPerson(row: { id: string; name: string }): void {
    if (!this.also().some((each) => each.id === row.id)) this.also.update((all) => [...all, row]);
  }

  protected dropPerson(id: string): void {
    this.also.update((all) => all.filter((each) => each.id !== id));
  }

  private happenedAt(): string | null {
    const [day = '', time = ''] = this.happened().split('T');
    const [hour = 0, minute = 0] = time.split(':').map(Number);
    return day ? localMoment(day, hour * 60 + minute, this.user.zone()) : null;
  }

  /** A channel that is not to be used offers nothing to start it with. */
  protected mayUse(channel: Channel): boolean {
    return !(this.shown()?.contact.doNotContact ?? []).some((mark) => mark.channel === channel);
  }

  protected keep(text: string): void {
    this.text.set(text);
    this.drafts.keep(this.draftKey(), text);
  }

  /** Enter in the note saves; Shift and Enter breaks the line. */
  protected onNoteKey(event: KeyboardEvent): void {
    if (event.key === 'Escape') this.note()?.nativeElement.blur();
    if (event.key !== 'Enter' || event.shiftKey) return;
    event.preventDefault();
    this.save();
  }

  protected plannedMinutes(): number {
    return this.row()?.minutes ?? this.stop()?.minutes ?? this.ready()?.minutes ?? 0;
  }

  /**
   * How long it took: as was said, as the telephone or the appointment had it, else from when it came on screen, unless that is so long
   * that something else came between, or it was at another time.
   */
  private minutesTaken(): number | null {
    if (this.minutes() !== null) return this.minutes();
    const taken = Math.round((performance.now() - this.since) / 60_000);
    const isLikely = taken >= 1 && taken <= Math.max(mostLikelyMinutes, 3 * this.plannedMinutes());
    return isLikely && this.happened() === '' && spokenBy.has(this.channel()) ? taken : null;
  }

  protected save(): void {
    const item = this.ready();
    const choice = this.chosen();
    const next = this.next();
    if (item === null || choice === null || next === null || this.isSaving()) return;
    const row = this.row();
    const body = {
      id: this.entryId,
      contactId: item.contact.id,
      dealId: item.deal?.id ?? null,
      taskId: row?.taskId ?? item.task?.id ?? null,
      outcomeId: choice.outcome.id,
      at: this.happenedAt(),
      minutes: this.minutesTaken(),
      body: this.text().trim(),
      done: this.tookPlace() === true ? [...this.done()] : [],
      alsoContactIds: this.also().map((each) => each.id) as LogEntry['alsoContactIds'],
      next,
    };
    this.isSaving.set(true);
    this.problem.set(null);
    this.api.call('log', { body }).subscribe({
      next: (logged) => {
        this.isSaving.set(false);
        this.keep('');
        const name = item.contact.name;
        this.tally.add({
          ...{ id: body.id, name, outcome: choice.outcome.label, counts: choice.outcome.counts },
          ...{ plannedMinutes: this.plannedMinutes(), takenMinutes: body.minutes },
        });
        this.notices.say(`${choice.outcome.label}: ${name}. ${logged.words}`, () => this.undo(body.id));
        this.leave(row);
      },
      error: (error: unknown) => {
        this.isSaving.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }

  protected canDefer(): boolean {
    return this.row() !== null || (this.ready()?.task ?? null) !== null;
  }

  /** To another day, and on to the next one. */
  protected async defer(): Promise<void> {
    const [row, item] = [this.row(), this.ready()];
    const { TaskActs } = await import('../tasks/index');
    const acts = this.injector.get(TaskActs);
    const name = item?.contact.name ?? row?.contactName ?? '';
    const to = await acts.askDay({ name, roomOn: row?.moveTo ?? null });
    if (!to) return;
    this.tally.addMoved();
    if (row !== null) this.store.move([{ row, to }], () => $localize`Moved: ${name}:name:.`);
    else if (item?.task) this.moveTask(item.task, to, name);
    this.leave(row, false);
  }

  private moveTask({ id, version }: NonNullable<WalkItem['task']>, dueOn: string, name: string): void {
    const changeId = v7();
    this.api.call('deferTask', { params: { id }, body: { version, dueOn } }, changeId).subscribe({
      next: () => this.changeUndo.offer($localize`Moved: ${name}:name:.`, changeId),
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected goOn(): void {
    const list = this.chosenList();
    if (list !== null) {
      if (this.at() + 1 < list.stops.length) this.go({ key: null, at: this.at() + 1 });
      return;
    }
    const key = this.key();
    const next = key ? this.store.after(key) : null;
    if (next) this.goTo(next.key);
  }

  protected back(): void {
    if (this.chosenList() !== null) return this.go({ key: null, at: Math.max(0, this.at() - 1) });
    const before = this.trail().at(-1);
    if (before === undefined) return;
    this.trail.update((keys) => keys.slice(0, -1));
    this.go({ key: before });
  }

  /** @param isDone whether it counts as one more that was done in this walk */
  private leave(row: RoundRow | null, isDone = true): void {
    this.drafts.keepForm(this.formKey(), null);
    const walked = this.walked() + (isDone ? 1 : 0);
    const list = this.chosenList();
    if (list !== null) {
      const at = this.at() + 1;
      if (at < list.stops.length) this.go({ key: null, at, walked });
      else void this.router.navigate(['/walk/end'], { queryParams: { list: list.id, at } });
      return;
    }
    const next = row && this.store.after(row.key);
    if (row !== null) this.store.takeAway(row.key);
    if (row === null || this.alone() === 'yes') {
      const contact = row?.contactId ?? this.about().contact;
      const elsewhere = contact ? `/people?open=contact:${contact}` : '/round';
      void this.router.navigateByUrl(this.origin.read() ?? elsewhere);
      return;
    }
    if (next) this.go({ key: next.key, walked });
    else void this.router.navigate(['/walk/end'], { queryParams: this.endQuery() });
  }

  private goTo(key: string): void {
    const from = this.key();
    if (from) this.trail.update((keys) => [...keys, from]);
    this.go({ key, alone: null });
  }

  /** What the end of the walk is about. */
  protected readonly endQuery = computed(() => {
    const list = this.list();
    return list === undefined
      ? { only: this.only(), due: this.due(), from: this.from(), of: this.of() }
      : { list, at: this.at() };
  });

  /** To another row of the same walk. */
  private go(queryParams: { key: string | null; [further: string]: unknown }, replaceUrl = false): void {
    void this.router.navigate(['/walk'], { queryParams, queryParamsHandling: 'merge', replaceUrl });
  }

  private undo(entryId: string): void {
    const row = this.row();
    this.api.call('undoLog', { params: { id: entryId } }).subscribe({
      next: () => {
        this.tally.remove(entryId);
        this.store.again();
        this.notices.say($localize`Undone: everything is as it was before.`);
        if (row === null) this.item.again();
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
