import { BreakpointObserver } from '@angular/cdk/layout';
import {
  afterNextRender,
  Injector,
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
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { RouterLink } from '@angular/router';
import type { CallOf, Template, Wording } from '@kettle/contract';
import { debounceTime } from 'rxjs';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { ChoiceField, labelled } from '../../kit/choice-field';
import { Conflicts } from '../../kit/conflicts';
import { Submission } from '../../kit/submission';
import { reading } from '../../api/reading';
import { choiceParts } from '../../kit/choice';
import { CountPipe } from '../../kit/say.pipes';
import { Failed, Waiting } from '../../kit/states';
import { WhyNot } from '../../kit/why-not';
import { ChangeStream } from '../../services/change-stream';
import { Drafts } from '../../services/drafts';
import { Keys } from '../../services/keys';
import { Notices } from '../../services/notices';
import { SelectedRecord } from '../../services/selected-record';
import { Undo } from '../../services/undo';
import { CurrentUser } from '../../services/current-user';
import { FileList } from '../dossier/index';
import { PersonPicker } from '../fields/index';
import { AskRelease, WaitingWordings, WordingHistory } from '../wordings/index';

type Text = Pick<Template, 'name' | 'channel' | 'subject' | 'body'>;

const settleMillis = 250;
const blank: Text = { name: '', channel: 'email', subject: '', body: '' };

/** The texts that steps send: written with facts of the person, and seen as a real person would get them. */
@Component({
  selector: 'kettle-templates-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ChoiceField,
    CountPipe,
    WhyNot,
    choiceParts,
    MatButtonModule,
    Conflicts,
    RouterLink,
    Failed,
    Waiting,
    PersonPicker,
    FileList,
    WaitingWordings,
    WordingHistory,
  ],
  templateUrl: './templates-page.html',
  styleUrl: './templates-page.scss',
})
export class TemplatesPage {
  protected readonly texts = {
    cadences: $localize`cadence|cadences`,
    eMail: $localize`e-mail`,
    text: $localize`text`,
    hideTheRetired: $localize`hide the retired`,
    showThem: $localize`show them`,
    putIntoTheText: (name: string | number) => $localize`Put ${name}:name: into the text`,
    nothingWasChanged: $localize`Nothing was changed.`,
    save: $localize`Save`,
    createTemplate: $localize`Create template`,
    useItAgain: $localize`use it again`,
    retireIt: $localize`retire it`,
  };

  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly drafts = inject(Drafts);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  protected readonly selected = inject(SelectedRecord);
  private readonly releasing = inject(AskRelease);
  protected readonly user = inject(CurrentUser);
  /** The template that is open; `new` for one that is being made. */
  readonly template = input<string>();

  protected readonly list = reading((_: null) => this.api.call('listTemplates'));
  protected readonly preview = reading((body: CallOf<'fillText'>['body']) =>
    this.api.call('fillText', { body }),
  );
  private readonly somebody = reading((_: null) => this.api.call('listContacts', { query: { limit: 1 } }));

  protected readonly withRetired = signal(false);
  protected readonly shown = computed(() =>
    (this.list.value()?.templates ?? []).filter((each) => this.withRetired() || !each.isRetired),
  );
  protected readonly retired = computed(
    () => (this.list.value()?.templates ?? []).filter((each) => each.isRetired).length,
  );
  protected readonly isNew = computed(() => this.template() === 'new');
  protected readonly chosen = computed((): Template | null => {
    const all = this.list.value()?.templates ?? [];
    return this.isNew() ? null : (all.find((each) => each.id === this.template()) ?? this.shown()[0] ?? null);
  });
  private readonly draftKey = computed(() => `template.${this.chosen()?.id ?? 'new'}`);
  /** The version that is written over: it stays while something is written, so that a change by others is noticed. */
  private readonly basedOn = linkedSignal<{ key: string; version: number }, number>({
    source: () => ({ key: this.draftKey(), version: this.chosen()?.version ?? 0 }),
    computation: ({ key, version }, before) =>
      before !== undefined && before.source.key === key && untracked(() => this.isChanged())
        ? before.value
        : version,
  });
  private readonly saved = computed((): Text => textOf(this.chosen() ?? blank));
  protected readonly text = linkedSignal<{ key: string; saved: Text }, Text>({
    source: () => ({ key: this.draftKey(), saved: this.saved() }),
    computation: ({ key, saved }) => this.drafts.readForm<Text>(key) ?? saved,
  });
  protected readonly isChanged = computed(() => JSON.stringify(this.text()) !== JSON.stringify(this.saved()));
  protected readonly picked = signal('');
  protected readonly personId = computed(() => this.picked() || (this.somebody.value()?.rows[0]?.id ?? ''));
  protected readonly saving = new Submission();
  protected readonly isBusy = signal(false);
  protected readonly channels = labelled({ email: $localize`an e-mail`, text: $localize`a text` });
  private readonly savedSignature = computed(() => this.list.value()?.signature ?? '');
  /** What is being typed stays while a colleague changes a template. */
  protected readonly signature = linkedSignal(this.savedSignature);
  private readonly form = viewChild<ElementRef<HTMLElement>>('form');
  private readonly body = viewChild<ElementRef<HTMLTextAreaElement>>('body');

  constructor() {
    this.list.read(null);
    this.somebody.read(null);
    const injector = inject(Injector);
    const narrow = inject(BreakpointObserver);
    // Where the list stands above the text, the text that was chosen is gone to.
    effect(() => {
      if (this.template() === undefined || !narrow.isMatched('(width < 1000px)')) return;
      afterNextRender({ read: () => this.form()?.nativeElement.scrollIntoView() }, { injector });
    });
    effect(() => {
      this.draftKey();
      untracked(() => this.saving.clear());
    });
    toObservable(computed(() => ({ ...this.text(), contactId: this.personId() })))
      .pipe(debounceTime(settleMillis), takeUntilDestroyed())
      .subscribe(({ channel, subject, body, contactId }) => {
        if (contactId) this.preview.read({ channel, subject, body, contactId });
      });
    inject(ChangeStream)
      .of('template')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.list.again());
    inject(Keys).bind({ keys: '$mod+s', words: $localize`Save the template`, act: () => this.save() });
  }

  protected change(part: Partial<Text>): void {
    const text = { ...this.text(), ...part };
    this.text.set(text);
    const isKept = JSON.stringify(text) !== JSON.stringify(this.saved());
    this.drafts.keepForm(this.draftKey(), isKept ? text : null);
  }

  /** Puts a place for a fact where the cursor stands. */
  protected readonly inclusionOf = (name: string) => `{% include '${name}' %}`;

  protected insert(words: string): void {
    const box = this.body()?.nativeElement;
    const { body } = this.text();
    const at = box?.selectionStart ?? body.length;
    this.change({ body: body.slice(0, at) + words + body.slice(box?.selectionEnd ?? at) });
    box?.focus();
  }

  protected save(isRetired = this.chosen()?.isRetired ?? false): void {
    if (this.isBusy()) return;
    const chosen = this.chosen();
    const body = this.text();
    this.isBusy.set(true);
    if (!this.user.mayRelease()) return this.askFor(chosen, body, isRetired);
    const saved$ =
      chosen === null
        ? this.api.call('createTemplate', { body })
        : this.api.call('changeTemplate', {
            params: { id: chosen.id },
            body: { ...this.saving.bodyOf({ ...body, isRetired }), version: this.basedOn() },
          });
    saved$.subscribe({
      next: (saved) => {
        this.isBusy.set(false);
        this.saving.clear();
        this.drafts.keepForm(this.draftKey(), null);
        const known = this.list.value()!;
        this.list.put({
          ...known,
          templates: [...known.templates.filter(({ id }) => id !== saved.id), saved].sort((a, b) =>
            a.name.localeCompare(b.name),
          ),
        });
        this.selected.setQuery({ template: saved.id });
        this.notices.say(
          isRetired ? $localize`${saved.name} is retired.` : $localize`${saved.name} is saved.`,
        );
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.saving.refuse(error);
      },
    });
  }

  /** What somebody else must release is sent to them; the form is then as what is in use. */
  private askFor(chosen: Template | null, body: Text, isRetired: boolean): void {
    const asked$ =
      chosen === null
        ? this.releasing.send({ act: 'createTemplate', body })
        : this.releasing.send({
            act: 'changeTemplate',
            templateId: chosen.id,
            body: { ...this.saving.bodyOf({ ...body, isRetired }), version: this.basedOn() },
          });
    asked$.subscribe({
      next: () => {
        this.isBusy.set(false);
        this.forget();
        if (chosen === null) this.selected.setQuery({ template: null });
      },
      error: (error: unknown) => {
        this.isBusy.set(false);
        this.saving.refuse(error);
      },
    });
  }

  /** An earlier wording, as a change that is saved like any other. */
  protected takeEarlier({ asked }: Wording): void {
    const { subject = '', body = '' } = asked as Partial<Text>;
    this.change({ subject, body });
  }

  protected forget(): void {
    this.drafts.keepForm(this.draftKey(), null);
    this.text.set(this.saved());
    this.saving.clear();
    this.list.again();
  }

  protected saveSignature(): void {
    const changeId = v7();
    this.api.call('changeMySignature', { body: { signature: this.signature() } }, changeId).subscribe({
      next: () => {
        this.list.again();
        this.undo.offer($localize`Your signature stands below every mail from now on.`, changeId, () =>
          this.list.again(),
        );
      },
      error: (error: unknown) => this.notices.problem(error),
    });
  }

  protected async openSnippet(id: string | null): Promise<void> {
    const { SnippetDialog } = await import('./snippet-dialog');
    const snippet = this.list.value()?.snippets.find((each) => each.id === id) ?? null;
    this.dialog
      .open(SnippetDialog, { data: snippet, width: '520px' })
      .afterClosed()
      .subscribe(() => this.list.again());
  }
}

const textOf = ({ name, channel, subject, body }: Text): Text => ({ name, channel, subject, body });
