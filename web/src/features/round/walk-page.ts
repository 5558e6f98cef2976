import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  type ElementRef,
  inject,
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
  Channel,
  LogEntry,
  OutcomeChoice,
  PhoneCall,
  RoundRow,
  TaskId,
  WalkItem,
} from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { channelNames } from '@kettle/contract/base/channels';
import { localMoment } from '@kettle/core/time';
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
import { type RoundFilter, RoundStore } from './round.store';

const written = [
  { channel: 'email', words: $localize`Write a mail` },
  { channel: 'text', words: $localize`Write a text` },
] as const;

interface Asked {
  readonly subject: string;
  readonly item: WalkItem | null;
}

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
  readonly due = input<'late' | 'today'>();
  /** One step that was opened by its link: once it is logged, one is back where one came from. */
  readonly alone = input<'yes'>();
  /** How many were done in this walk: what is done leaves the Round, and the count goes on. */
  readonly walked = input(0, { transform: (text: unknown) => Math.max(0, Math.trunc(Number(text)) || 0) });
  protected readonly filter = computed((): RoundFilter => ({ channel: this.only(), due: this.due() }));

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
  private readonly draftKey = computed(() => `walk.${this.key() ?? this.contact() ?? ''}`);
  /** What the person chose stays while the Round is read again; another subject begins as it is planned. */
  protected readonly channel = linkedSignal<{ subject: string; planned: Channel }, Channel>({
    source: () => ({
      subject: this.draftKey(),
      planned: this.by() ?? this.row()?.channel ?? 'call',
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
    return item?.contact.id === (this.row()?.contactId ?? this.contact()) ? item : null;
  });
  /** The same once it is what was asked for last: with another channel come other outcomes. */
  protected readonly ready = computed(() => (this.item.state().kind === 'ready' ? this.shown() : null));
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
      const chosen = before?.source.subject === subject ? before.value : null;
      if (item === null) return chosen;
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
    computation: ({ subject }, before) => (before?.source.subject === subject ? before.value : null),
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
    computation: () => new Set(),
  });
  /** The planned step that is said to be logged outside the Round; null is none of them, undefined is whichever is likely. */
  private readonly said = linkedSignal<string, string | null | undefined>({
    source: this.draftKey,
    computation: () => this.task(),
  });
  /** The planned step that the log finishes. */
  protected readonly picked = computed(() => this.ready()?.task?.id ?? null);
  /** Outside the Round, what is planned with the person: was it one of these? */
  protected readonly planned = computed((): WalkItem['planned'] =>
    this.row() === null && this.task() === undefined ? (this.shown()?.planned ?? []) : [],
  );
  /** What is to be done, of the row or of the one step that was opened. */
  protected readonly purpose = computed(
    () => this.row()?.purpose ?? this.shown()?.planned.find(({ id }) => id === this.task())?.purpose ?? null,
  );
  protected readonly minutes = linkedSignal<string, number | null>({
    source: this.draftKey,
    computation: () => null,
  });
  protected readonly happened = linkedSignal<string, string>({
    source: this.draftKey,
    computation: () => '',
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
      const was = before?.source;
      const isTyped =
        was?.outcome.id === choice.outcome.id &&
        JSON.stringify(before?.value) !== JSON.stringify({ ...was.proposal.step });
      return isTyped ? (before?.value ?? null) : { ...choice.proposal.step };
    },
  });
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly isSaving = signal(false);
  protected readonly text = linkedSignal(() => this.drafts.read(this.draftKey()));
  protected readonly place = computed(() => {
    const at = this.store.rows().findIndex((row) => row.key === this.key());
    const done = this.walked();
    return at < 0
      ? null
      : { at: at + 1 + done, of: this.store.rows().length + (this.store.round()?.more ?? 0) + done };
  });
  private readonly trail = signal<readonly string[]>([]);
  protected readonly canGoBack = computed(() => this.trail().length > 0);
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
      if (this.key() || this.contact() || !first) return;
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
      });
    });
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
      const contactId = this.contact();
      const said = this.said();
      const planned = said === undefined ? ('likely' as const) : undefined;
      return contactId
        ? { channel, contactId, dealId: this.deal(), taskId: said ?? undefined, planned }
        : null;
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
      if (sent !== undefined) this.leave(row);
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

  private at(): string | null {
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
      at: this.at(),
      minutes: this.minutes(),
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
        this.notices.say(`${choice.outcome.label}: ${name}. ${logged.words}`, () => this.undo(body.id));
        this.leave(row);
      },
      error: (error: unknown) => {
        this.isSaving.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }

  protected goOn(): void {
    const key = this.key();
    const next = key ? this.store.after(key) : null;
    if (next) this.goTo(next.key);
  }

  protected back(): void {
    const before = this.trail().at(-1);
    if (before === undefined) return;
    this.trail.update((keys) => keys.slice(0, -1));
    this.go({ key: before });
  }

  private leave(row: RoundRow | null): void {
    const next = row && this.store.after(row.key);
    if (row !== null) this.store.takeAway(row.key);
    if (row === null || this.alone() === 'yes') {
      const contact = row?.contactId ?? this.contact();
      const elsewhere = contact ? `/people?open=contact:${contact}` : '/round';
      void this.router.navigateByUrl(this.origin.read() ?? elsewhere);
      return;
    }
    if (next) this.go({ key: next.key, walked: this.walked() + 1 });
    else void this.router.navigate(['/round'], { queryParams: this.filter() });
  }

  private goTo(key: string): void {
    const from = this.key();
    if (from) this.trail.update((keys) => [...keys, from]);
    this.go({ key, alone: null });
  }

  /** To another row of the same walk. */
  private go(queryParams: { key: string | null; [further: string]: unknown }, replaceUrl = false): void {
    void this.router.navigate(['/walk'], { queryParams, queryParamsHandling: 'merge', replaceUrl });
  }

  private undo(entryId: string): void {
    const row = this.row();
    this.api.call('undoLog', { params: { id: entryId } }).subscribe({
      next: () => {
        this.store.again();
        this.notices.say($localize`Undone: everything is as it was before.`);
        if (row === null) this.item.again();
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
