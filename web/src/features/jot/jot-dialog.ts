import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialog, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import type { CallOf, JotReading, NextStep, Proposal } from '@kettle/contract';
import { channelLabel } from '@kettle/contract/labels';
import { localMoment, sayDay, sayMinute } from '@kettle/core/time';
import { catchError, combineLatest, debounceTime, firstValueFrom, of, switchMap } from 'rxjs';
import { v7 } from 'uuid';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { fieldParts } from '../../kit/field';
import { WhyNot } from '../../kit/why-not';
import { Drafts } from '../../services/drafts';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
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
        @if (it.act !== 'nothing' && !it.person && !it.unknownName && it.questions.length === 0) {
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
  private readonly notices = inject(Notices);
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
        words: it.person.name + (it.person.companyName ? `, ${it.person.companyName}` : ''),
      });
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
        label: $localize`next`,
        words: `${channelLabel[it.task.channel].toLowerCase()}: ${it.task.purpose} · ${sayDay(it.task.on, today)}${sayTime(it.task.minute)}`,
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
    const words = name.split(' ');
    const data = { givenName: words.slice(0, -1).join(' '), familyName: words.at(-1) ?? '' };
    this.dialogs
      .open(ContactDialog, { data, width: '640px' })
      .afterClosed()
      .subscribe((made: { id: string } | undefined) => {
        if (made) this.answers.update((answers) => ({ ...answers, person: made.id }));
      });
  }

  protected async save(): Promise<void> {
    // What was typed last may not have been read yet: it is read before anything is written.
    const it = await firstValueFrom(this.ask(this.line(), this.answers()));
    this.read.set(it);
    if (this.whyNot() !== null || it === null || this.isSaving) return;
    if (it.act === 'lead') return this.saveLead(it);
    if (it.person === null) return;
    this.isSaving = true;
    try {
      const words = await this.carryOut(it, it.person.id);
      this.drafts.keep(draftKey, '');
      const { name } = it.person;
      const undo = it.act === 'log' ? () => this.undo() : undefined;
      this.notices.say(`${words}: ${name}.`, undo);
      this.selected.open({ kind: 'contact', id: it.person.id });
      this.dialog.close();
    } catch (error) {
      this.problem.set(problemOf(error));
    } finally {
      this.isSaving = false;
    }
  }

  /** The lead, on somebody known or new, and what is planned with it. */
  private async saveLead(it: JotReading): Promise<void> {
    this.isSaving = true;
    try {
      const lead = await firstValueFrom(this.api.call('createLead', { body: this.leadBody(it) }));
      if (it.task) {
        const { channel, on: dueOn, minute: promisedMinute, purpose } = it.task;
        const minutes = this.user.minutes()[channel];
        const task = { channel, dueOn, promisedMinute, purpose, minutes, contactId: lead.contactId };
        await firstValueFrom(this.api.call('createTask', { body: task }));
      }
      this.drafts.keep(draftKey, '');
      this.notices.say($localize`A lead: ${lead.contactName}:contactName:, ${lead.subject}:subject:.`);
      this.selected.open({ kind: 'lead', id: lead.id });
      this.dialog.close();
    } catch (error) {
      this.problem.set(problemOf(error));
    } finally {
      this.isSaving = false;
    }
  }

  private leadBody({ person, unknownName, lead }: JotReading): CallOf<'createLead'>['body'] {
    const words = (unknownName ?? '').split(' ');
    const { companyName = null, email = null, phone = null, subject = '' } = lead ?? {};
    const on = person
      ? { contactId: person.id }
      : {
          ownerId: this.user.person()?.id ?? null,
          person: {
            givenName: words.slice(0, -1).join(' '),
            familyName: words.at(-1) ?? '',
            companyName,
            email,
            phone,
          },
        };
    return { subject, source: 'jot', ...on };
  }

  private async carryOut(it: JotReading, contactId: string): Promise<string> {
    const step = it.task && {
      channel: it.task.channel,
      dueOn: it.task.on,
      promisedMinute: it.task.minute,
      purpose: it.task.purpose,
      minutes: this.user.minutes()[it.task.channel],
    };
    if (it.act === 'task' && step) {
      await firstValueFrom(this.api.call('createTask', { body: { ...step, contactId } }));
      if (it.body) await this.writeNote(contactId, it.body);
      return $localize`Planned`;
    }
    if (it.act === 'log' && it.outcomeId) {
      const next: NextStep = step ? { kind: 'task', ...step } : await this.nextFor(it);
      await firstValueFrom(
        this.api.call('log', {
          body: {
            id: this.id,
            contactId,
            outcomeId: it.outcomeId,
            at: this.momentOf(it),
            body: it.body,
            next,
          },
        }),
      );
      return it.outcomeWords ?? $localize`Logged`;
    }
    await this.writeNote(contactId, it.body);
    return $localize`Written down`;
  }

  private writeNote(contactId: string, body: string): Promise<unknown> {
    return firstValueFrom(this.api.call('writeNote', { body: { id: this.id, contactId, body } }));
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

  private undo(): void {
    this.api.call('undoLog', { params: { id: this.id } }).subscribe({
      next: () => this.notices.say($localize`Undone: everything is as it was before.`),
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}

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
  ];
}

function sayTime(minute: number | null): string {
  return minute === null ? '' : ` ${sayMinute(minute)}`;
}
