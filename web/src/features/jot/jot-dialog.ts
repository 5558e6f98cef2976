import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  inject,
  Injector,
  signal,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialog, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import type { CallOf, DealRow, JotReading, NextStep, Proposal } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { splitName } from '@kettle/core/duplicates';
import { localMoment, sayDay, sayMinute } from '@kettle/core/time';
import { catchError, combineLatest, debounceTime, firstValueFrom, map, of, switchMap } from 'rxjs';
import { v7 } from 'uuid';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { fieldParts } from '../../kit/field';
import { WhyNot } from '../../kit/why-not';
import { Drafts } from '../../services/drafts';
import { CurrentUser } from '../../services/current-user';
import { Undo } from '../../services/undo';
import { SelectedRecord } from '../../services/selected-record';

interface Chip {
  readonly icon: string;
  readonly label: string;
  readonly words: string;
}

const settleMillis = 120;
const draftKey = 'jot';

export interface JotData {
  /** The contact that is open: meant when the line names nobody. */
  readonly aboutId: string | null;
  /** What was typed while the dialog was opening. */
  readonly takeTyped: () => string;
}

/** One line from anywhere. What it was understood as is shown as chips, doubts are asked about, and only Enter saves. */
@Component({
  selector: 'kettle-jot-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [WhyNot, fieldParts, MatButtonModule, MatDialogModule, MatIcon],
  template: `
    <div class="jot">
      <mat-form-field class="line">
        <mat-label i18n>Jot one line</mat-label>
        <input
          matInput
          #box
          autocomplete="off"
          maxlength="500"
          placeholder="spoke to … , wants price, call thursday 10"
          i18n-placeholder
          [value]="line()"
          (input)="write(box.value)"
          (keydown.enter)="$event.preventDefault(); save()"
        />
      </mat-form-field>
      @if (read(); as it) {
        @if (it.act !== 'nothing') {
          <ul class="chips" aria-label="Understood as" i18n-aria-label>
            @for (chip of chips(); track chip.label) {
              <li>
                <mat-icon [svgIcon]="chip.icon" aria-hidden="true" />
                <span class="soft">{{ chip.label }}</span>
                {{ chip.words }}
              </li>
            }
          </ul>
        }
        @for (question of it.questions; track question.about) {
          <p class="ask" role="group" [attr.aria-label]="question.words">
            <b class="now">{{ question.words }}</b>
            @for (choice of question.choices; track choice.value) {
              <button matButton="outlined" type="button" (click)="answer(question.about, choice.value)">
                {{ choice.words }}
              </button>
            }
          </p>
        }
        @if (it.unknownName && it.act !== 'lead' ? it.unknownName : null; as name) {
          <p class="ask">
            <b i18n class="now">Nobody here is called {{ name }}.</b>
            <button i18n matButton="outlined" type="button" (click)="makePerson(name)">Add {{ name }}</button>
          </p>
        }
        @if (
          it.act !== 'nothing' &&
          it.act !== 'closing' &&
          !it.person &&
          !it.unknownName &&
          it.questions.length === 0
        ) {
          <p i18n class="soft">Say who it is about: a name, or open somebody first.</p>
        }
      } @else {
        <p i18n class="soft">
          Say who, what happened and what is next, in one line: “left a message for Maud, email her tomorrow”,
          “visit Theo 3 december at 2pm”, “note: prefers mornings”, “lead: Nora Pell of Pell Spa, wants a
          softener”.
        </p>
      }
      @if (problem(); as wrong) {
        <p class="wrong" role="alert">{{ wrong.message }}</p>
        @if (wrong.code === 'reason-needed') {
          <p i18n class="soft">Add what is next to the line, for instance “call monday 10”.</p>
        }
      }
      <p class="foot">
        <span i18n class="soft">Nothing is saved before you press</span>
        <kbd>↵</kbd>
        <span class="grow"></span>
        <button i18n matButton="outlined" type="button" mat-dialog-close>Cancel</button>
        <button matButton="filled" type="button" [kettleWhyNot]="whyNot()" (click)="save()">
          {{ verb() }}
        </button>
      </p>
    </div>
  `,
  styles: `
    .jot {
      display: grid;
      gap: var(--space-3);
      padding: var(--space-4);
    }
    .field .line {
      min-block-size: 44px;
      font-size: var(--text-lead);
    }
    .chips {
      display: flex;
      flex-wrap: wrap;
      gap: 6px;
    }
    .chips li {
      display: flex;
      align-items: center;
      gap: 5px;
      padding: 3px 9px;
      border: 1px solid var(--link);
      border-radius: var(--radius);
    }
    .ask,
    .foot {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: var(--space-2);
    }
  `,
})
export class JotDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialogRef<JotDialog>);
  private readonly dialogs = inject(MatDialog);
  private readonly undo = inject(Undo);
  private readonly injector = inject(Injector);
  private readonly drafts = inject(Drafts);
  private readonly selected = inject(SelectedRecord);
  private readonly user = inject(CurrentUser);
  private readonly data = inject<JotData>(MAT_DIALOG_DATA);
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  /** Made once, so that a save repeated after a lost answer writes nothing twice. */
  private readonly id = v7();

  protected readonly line = signal(this.drafts.read(draftKey));
  private readonly answers = signal<Readonly<Record<string, string>>>({});
  protected readonly read = signal<JotReading | null>(null);
  private readonly proposal = signal<Proposal | null>(null);
  protected readonly problem = signal<ApiProblem | null>(null);
  private isSaving = false;

  protected readonly chips = computed((): Chip[] => {
    const it = this.read();
    if (it === null) return [];
    const today = this.user.today();
    const chips: Chip[] = [];
    if (it.act === 'lead' && it.lead) chips.push(...leadChips(it, it.lead));
    else if (it.person)
      chips.push({
        icon: 'person',
        label: $localize`with`,
        words:
          it.person.name +
          (it.person.companyName ? `, ${it.person.companyName}` : '') +
          it.also.map(({ name }) => ` + ${name}`).join(''),
      });
    if (it.deal)
      chips.push({
        icon: 'deal',
        label:
          it.closing === null ? $localize`deal` : it.closing === 'won' ? $localize`won` : $localize`lost`,
        words: it.deal.name,
      });
    if (it.minutes !== null)
      chips.push({ icon: 'clock', label: $localize`took`, words: $localize`${it.minutes}:minutes: min` });
    if (it.outcomeWords && it.channel)
      chips.push({ icon: it.channel, label: channelLabel[it.channel].toLowerCase(), words: it.outcomeWords });
    if (it.happened)
      chips.push({
        icon: 'clock',
        label: $localize`on`,
        words: sayDay(it.happened.on, today) + sayTime(it.happened.minute),
      });
    if (it.body) chips.push({ icon: 'note', label: $localize`note`, words: it.body });
    if (it.task)
      chips.push({
        icon: it.task.channel,
        label: it.task.owner ? $localize`for ${it.task.owner.name}:colleague:` : $localize`next`,
        words: `${channelLabel[it.task.channel].toLowerCase()}: ${it.task.purpose} · ${sayDay(it.task.on, today)}${sayTime(it.task.minute)}${it.task.place ? ` · ${it.task.place}` : ''}`,
      });
    const proposed = this.proposal();
    if (it.act === 'log' && !it.task && proposed?.on)
      chips.push({
        icon: 'clock',
        label: $localize`next, proposed`,
        words: `${proposed.words} · ${sayDay(proposed.on, today)}`,
      });
    return chips;
  });
  /** What the line still lacks before it can be saved. */
  protected readonly whyNot = computed(() => {
    const it = this.read();
    if (it === null || it.act === 'nothing') return $localize`Say first who it is about and what happened.`;
    if (it.questions.length > 0) return $localize`Answer the question above first.`;
    if (it.act === 'closing') return it.closing === null ? $localize`Say whether it was won or lost.` : null;
    const isAboutSomebody = it.person !== null || (it.act === 'lead' && it.unknownName !== null);
    return isAboutSomebody ? null : $localize`Say who it is about: a name, or open somebody first.`;
  });
  protected readonly verb = computed(() => {
    switch (this.read()?.act) {
      case 'log':
        return $localize`Log it`;
      case 'task':
        return $localize`Plan`;
      case 'lead':
        return $localize`Add the lead`;
      case 'closing':
        return $localize`Close the deal`;
      default:
        return $localize`Save`;
    }
  });

  constructor() {
    afterNextRender(() => {
      this.box().nativeElement.focus();
      this.box().nativeElement.select();
      const typed = this.data.takeTyped();
      if (typed !== '') this.write(typed);
    });
    combineLatest([toObservable(this.line), toObservable(this.answers)])
      .pipe(
        debounceTime(settleMillis),
        switchMap(([line, answers]) => (line.trim() === '' ? of(null) : this.ask(line, answers))),
        takeUntilDestroyed(),
      )
      .subscribe((read) => this.read.set(read));
    toObservable(this.read)
      .pipe(
        switchMap((it) =>
          it?.act === 'log' && !it.task && it.person && it.channel ? this.askProposal(it) : of(null),
        ),
        takeUntilDestroyed(),
      )
      .subscribe((proposal) => this.proposal.set(proposal));
  }

  protected write(line: string): void {
    this.line.set(line);
    this.drafts.keep(draftKey, line);
    this.problem.set(null);
  }

  protected answer(about: string, value: string): void {
    this.answers.update((answers) => ({ ...answers, [about]: value }));
    this.box().nativeElement.focus();
  }

  protected async makePerson(name: string): Promise<void> {
    const { ContactDialog } = await import('../contacts/contact-dialog');
    this.dialogs
      .open(ContactDialog, { data: splitName(name), width: '640px' })
      .afterClosed()
      .subscribe((made: { id: string } | undefined) => {
        if (made) this.answers.update((answers) => ({ ...answers, person: made.id }));
      });
  }

  protected async save(): Promise<void> {
    // What was typed last may not have been read yet; what is saved is what was shown.
    const it = await firstValueFrom(this.ask(this.line(), this.answers()));
    const isShown = JSON.stringify(it) === JSON.stringify(this.read());
    this.read.set(it);
    if (!isShown || this.whyNot() !== null || it === null || this.isSaving) return;
    if (it.act === 'closing') return this.closeDeal(it);
    this.isSaving = true;
    try {
      const body = it.act === 'lead' ? this.leadOf(it) : await this.entryOf(it, it.person!.id);
      const { contactId, leadId, name } = await firstValueFrom(
        this.api.call('saveJot', { body: body as CallOf<'saveJot'>['body'] }, this.id),
      );
      this.drafts.keep(draftKey, '');
      this.undo.offer(`${this.said(it)}: ${name}.`, this.id);
      this.selected.open(leadId === null ? { kind: 'contact', id: contactId } : { kind: 'lead', id: leadId });
      this.dialog.close();
    } catch (error) {
      this.problem.set(problemOf(error));
    } finally {
      this.isSaving = false;
    }
  }

  /** Winning and losing ask for more than a line holds: their dialog opens with what was said. */
  private async closeDeal(it: JotReading): Promise<void> {
    const [{ DealDialogs }, { deal }] = await Promise.all([
      import('../deals/index'),
      firstValueFrom(
        this.api.call('getDeal', { params: { id: it.deal!.id } }).pipe(map((deal) => ({ deal }))),
      ),
    ]);
    this.drafts.keep(draftKey, '');
    this.dialog.close();
    await this.injector
      .get(DealDialogs)
      .close(deal, it.closing!, { words: it.body, amountMinor: amountOf(it, deal) });
  }

  private said(it: JotReading): string {
    switch (it.act) {
      case 'lead':
        return $localize`Lead`;
      case 'task':
        return $localize`Planned`;
      case 'log':
        return it.outcomeWords ?? $localize`Logged`;
      default:
        return $localize`Written down`;
    }
  }

  private leadOf(it: JotReading) {
    const { person, unknownName, lead, source, tags } = it;
    const { companyName = null, email = null, phone = null, subject = '' } = lead ?? {};
    const on = person
      ? { contactId: person.id }
      : {
          ownerId: this.user.person()?.id ?? null,
          person: {
            ...splitName(unknownName ?? ''),
            companyName,
            email,
            phone,
          },
        };
    return { act: 'lead', lead: { subject, source: source ?? 'jot', tags, ...on }, task: this.taskOf(it) };
  }

  private taskOf({ task }: JotReading) {
    if (task === null) return null;
    const { channel, on: dueOn, minute: promisedMinute, purpose, owner, place } = task;
    return {
      channel,
      dueOn,
      promisedMinute,
      purpose,
      minutes: this.user.minutes()[channel],
      ownerId: owner?.id ?? null,
      place,
    };
  }

  private async entryOf(it: JotReading, contactId: string) {
    const about = { id: this.id, contactId, dealId: it.deal?.id ?? null };
    const task = this.taskOf(it);
    if (it.act === 'task') {
      // A length that was said is how long it will take.
      const minutes = it.minutes ?? task!.minutes;
      return { act: 'task', ...about, body: it.body, task: { ...task, minutes } };
    }
    const alsoContactIds = it.also.map(({ id }) => id);
    if (it.act === 'note') return { act: 'note', ...about, alsoContactIds, body: it.body };
    const isColleagues = it.task?.owner !== null && task !== null;
    return {
      act: 'log',
      ...about,
      alsoContactIds,
      outcomeId: it.outcomeId,
      at: this.momentOf(it),
      minutes: it.minutes,
      body: it.body,
      next:
        task === null
          ? await this.nextFor(it)
          : isColleagues
            ? { kind: 'none', reason: $localize`planned for ${it.task!.owner!.name}:colleague:` }
            : { kind: 'task', ...task },
      task: isColleagues ? task : null,
    };
  }

  private async nextFor(it: JotReading): Promise<NextStep> {
    const proposal = this.proposal() ?? (await firstValueFrom(this.askProposal(it)));
    // A cadence goes on by its own task only; a line from outside it leaves the cadence as it is.
    return proposal?.step.kind === 'task' ? proposal.step : { kind: 'none', reason: '' };
  }

  /** The moment it happened: the time that was said, else now on that day, as far as it has passed. */
  private momentOf(it: JotReading): string | null {
    if (it.happened === null) return null;
    const now = this.user.now();
    const minute = it.happened.minute ?? this.user.minuteOf(now);
    const at = localMoment(it.happened.on, minute, this.user.zone());
    return at > now ? null : at;
  }

  private ask(line: string, answers: Readonly<Record<string, string>>) {
    const body = {
      line,
      answers: { ...answers },
      ...(this.data.aboutId ? { aboutId: this.data.aboutId } : {}),
    };
    return this.api.call('readJot', { body }).pipe(
      catchError((error: unknown) => {
        this.problem.set(problemOf(error));
        return of(null);
      }),
    );
  }

  private askProposal(it: JotReading) {
    const query = { contactId: it.person!.id, channel: it.channel! };
    return this.api.call('walkItem', { query }).pipe(
      switchMap((item) =>
        of(item.choices.find((choice) => choice.outcome.id === it.outcomeId)?.proposal ?? null),
      ),
      catchError(() => of(null)),
    );
  }
}

/** What was said that it came to, where that is in the deal's currency; else as it stands. */
const amountOf = ({ amount }: JotReading, deal: DealRow): number =>
  amount !== null && amount.currency === deal.currency ? amount.minor : deal.amountMinor;

function leadChips(it: JotReading, lead: NonNullable<JotReading['lead']>): Chip[] {
  const known = (icon: string, label: string, words: string | null): Chip[] =>
    words === null ? [] : [{ icon, label, words }];
  return [
    ...known(
      'person',
      it.person ? $localize`a lead of` : $localize`a lead, somebody new`,
      it.person?.name ?? it.unknownName,
    ),
    ...known('company', 'of', lead.companyName),
    ...known('email', 'e-mail', lead.email),
    ...known('call', 'phone', lead.phone),
    ...known('deal', 'wants', lead.subject),
    ...known('note', $localize`source`, it.source),
    ...it.tags.map((tag) => ({ icon: 'note', label: $localize`tag`, words: tag })),
  ];
}

function sayTime(minute: number | null): string {
  return minute === null ? '' : ` ${sayMinute(minute)}`;
}
