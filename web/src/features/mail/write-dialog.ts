import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { Router } from '@angular/router';
import type { MailDraft, NextStep } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { ChoiceField, named } from '../../kit/choice-field';
import { fieldParts } from '../../kit/field';
import { MomentPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { WhyNot } from '../../kit/why-not';
import { Drafts } from '../../services/drafts';
import { Notices } from '../../services/notices';
import { NextStepForm } from '../tasks/index';

export interface WriteAsked {
  readonly channel: 'email' | 'text';
  readonly contactId: string;
  /** Shown at once; else as soon as the person is read. */
  readonly name?: string | null;
  readonly dealId?: string | undefined;
  readonly taskId?: string | undefined;
  /** The mail that is answered. */
  readonly answers?: string | undefined;
}

interface Written {
  readonly subject: string;
  readonly body: string;
}

/** Gsm-7 texts are sent in parts of this many characters. */
const textPart = 160;
const mostTextCharacters = 600;

/** A mail or a text to one person, begun from a template, with the next step in the same act; nothing with a hole goes out. */
@Component({
  selector: 'kettle-write-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ChoiceField,
    WhyNot,
    fieldParts,
    MatButtonModule,
    MatDialogModule,
    NextStepForm,
    MomentPipe,
    Failed,
    Waiting,
  ],
  templateUrl: './write-dialog.html',
  styleUrl: './write-dialog.scss',
})
export class WriteDialog {
  protected readonly texts = {
    mailTo: $localize`Mail to`,
    textTo: $localize`Text to`,
    noAddress: $localize`no address`,
    fromThem: $localize`from them`,
  };

  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly notices = inject(Notices);
  private readonly drafts = inject(Drafts);
  private readonly dialog = inject(MatDialogRef<WriteDialog, string>);
  protected readonly asked = inject<WriteAsked>(MAT_DIALOG_DATA);
  protected readonly isMail = this.asked.channel === 'email';
  protected readonly textPart = textPart;
  protected readonly mostCharacters = this.isMail ? 20_000 : mostTextCharacters;

  protected readonly draft = reading((templateId: string | null) =>
    this.api.call('draftMail', {
      query: {
        channel: this.asked.channel,
        contactId: this.asked.contactId,
        dealId: this.asked.dealId,
        taskId: this.asked.taskId,
        answers: this.asked.answers,
        templateId: templateId ?? undefined,
      },
    }),
  );
  protected readonly item = reading((_: null) => {
    const { channel, contactId, dealId, taskId } = this.asked;
    return this.api.call('walkItem', {
      query: { channel, contactId, dealId, taskId },
    });
  });
  protected readonly earlier = reading((contactId: string) =>
    this.api.call('listTexts', { query: { contactId } }),
  );
  private readonly draftKey = `write.${this.asked.channel}.${this.asked.contactId}.${this.asked.answers ?? ''}`;
  /** What was written before and neither sent nor thrown away comes back; a template that is chosen replaces it. */
  protected readonly text = linkedSignal<MailDraft | null, Written>({
    source: this.draft.value,
    computation: (draft, before) => {
      const isFirst = before === undefined || before.source === null;
      const kept = isFirst ? this.drafts.readForm<Written>(this.draftKey) : null;
      return kept ?? { subject: draft?.subject ?? '', body: draft?.body ?? '' };
    },
  });
  protected readonly choice = computed(() => {
    const wanted = this.isMail ? (this.asked.answers ? 'email-answered' : 'email-sent') : 'text-sent';
    const choices = this.item.value()?.choices ?? [];
    return choices.find(({ outcome }) => outcome.id === wanted) ?? choices[0] ?? null;
  });
  protected readonly next = linkedSignal((): NextStep | null => this.choice()?.proposal.step ?? null);
  protected readonly name = computed(() => this.asked.name ?? this.item.value()?.contact.name ?? '');
  protected readonly problem = signal<ApiProblem | null>(null);
  protected readonly isBusy = signal(false);
  /** Made once: sending again after a lost answer sends nothing twice. */
  private readonly id = v7();

  constructor() {
    this.draft.read(null);
    this.item.read(null);
    if (!this.isMail) this.earlier.read(this.asked.contactId);
  }

  protected write(part: Partial<Written>): void {
    const text = { ...this.text(), ...part };
    this.text.set(text);
    this.drafts.keepForm(this.draftKey, text);
  }

  protected templatesOf = (draft: { readonly templates: readonly { id: string; name: string }[] }) =>
    named<string>(draft.templates);

  protected chooseTemplate(id: string): void {
    this.drafts.keepForm(this.draftKey, null);
    this.draft.read(id);
  }

  protected onKey(event: KeyboardEvent): void {
    if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey)) return;
    event.preventDefault();
    this.send();
  }

  /** What stands in the way of sending. */
  protected readonly whyNot = computed(() => {
    const draft = this.draft.value();
    if (draft === null || this.next() === null) return $localize`What is to be sent is still being read.`;
    return draft.blocked === null ? null : $localize`It is held back: the reason stands above.`;
  });

  protected send(): void {
    const next = this.next();
    const draft = this.draft.value();
    if (next === null || draft === null || this.isBusy()) return;
    const task = this.item.value()?.task ?? null;
    const body = {
      id: this.id,
      contactId: this.asked.contactId,
      dealId: this.item.value()?.deal?.id ?? null,
      taskId: task?.id ?? null,
      templateId: draft.templateId,
      answers: draft.answers,
      ...this.text(),
      next,
    };
    this.isBusy.set(true);
    this.problem.set(null);
    const sent$ = this.isMail
      ? this.api.call('sendMail', { body: body })
      : this.api.call('sendText', { body: body });
    sent$.subscribe({
      next: ({ words }) => {
        this.drafts.keepForm(this.draftKey, null);
        this.notices.say($localize`On its way to ${this.name()}:name:. ${words}:words:`, () =>
          this.undoLast(),
        );
        this.dialog.close(this.id);
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }

  protected onlyLog(): void {
    const { channel, contactId, dealId, taskId } = this.asked;
    this.dialog.close();
    // In the walk the same item is open already.
    if (this.router.url.startsWith('/walk')) return;
    void this.router.navigate(['/walk'], {
      queryParams: { contact: contactId, deal: dealId, task: taskId, by: channel },
    });
  }

  private undoLast(): void {
    this.api.call('undoLog', { params: { id: this.id } }).subscribe({
      next: () => this.notices.say($localize`Undone: it was not sent.`),
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
