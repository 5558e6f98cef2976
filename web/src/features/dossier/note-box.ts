import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  output,
  signal,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { localMoment } from '@kettle/core/time';
import { v7 } from 'uuid';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { MomentField } from '../../kit/moment-field';
import { WhyNot } from '../../kit/why-not';
import { Drafts } from '../../services/drafts';
import { CurrentUser } from '../../services/current-user';
import { Keys } from '../../services/keys';
import { KeyHint } from '../../kit/key-hint';
import type { SubjectRecord } from '../../services/selected-record';
import { PersonPicker } from '../fields/index';
import { RichBox } from './rich-box';

/** A note written straight into the journal, about several people if need be, dated back if it was; it survives a reload. */
@Component({
  selector: 'kettle-note-box',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [KeyHint, WhyNot, MomentField, MatButtonModule, RichBox, PersonPicker],
  template: `
    <form (submit)="write($event)">
      @if (isOpen() || text()) {
        @defer (on immediate) {
          <kettle-rich-box
            [text]="draft()"
            [takesFocus]="isOpen()"
            [takeTyped]="takeTyped"
            (changed)="keep($event)"
            (done)="write()"
          />
        } @placeholder {
          <p class="soft">…</p>
        } @error {
          <p i18n class="wrong" role="alert">
            The note could not be opened. Check the connection and reload the page.
          </p>
        }
        <div class="more">
          <kettle-moment-field
            label="When (empty: now)"
            i18n-label
            [max]="latest()"
            [value]="at()"
            (valueChange)="at.set($event)"
          />
          <kettle-person-picker
            label="Also about"
            i18n-label
            placeholder="Add somebody"
            i18n-placeholder
            [isRepeated]="true"
            (pickedRow)="add($event)"
          />
        </div>
        @if (also().length > 0) {
          <p>
            @for (each of also(); track each.id) {
              <button
                matButton
                type="button"
                (click)="drop(each.id)"
                [attr.aria-label]="texts.without(each.name)"
              >
                {{ each.name }} ×
              </button>
            }
          </p>
        }
        @if (problem(); as wrong) {
          <p class="wrong" role="alert">{{ wrong.of('body') ?? wrong.message }}</p>
        }
        <span class="spread">
          <button i18n matButton="filled" [kettleWhyNot]="text() ? null : texts.writeSomethingFirst">
            Save
          </button>
          <button i18n matButton type="button" (click)="leave()">Cancel</button>
        </span>
      } @else {
        <button i18n matButton="outlined" type="button" (click)="open()" kettleKey="n">Write a note</button>
      }
    </form>
  `,
  styles: `
    form {
      display: grid;
      gap: 6px;
      justify-items: start;
    }
    kettle-rich-box,
    .more {
      inline-size: 100%;
    }
    .more {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: var(--space-2);
    }
  `,
})
export class NoteBox {
  protected readonly texts = {
    without: (name: string | number) => $localize`Without ${name}:name:`,
    writeSomethingFirst: $localize`Write something first.`,
  };

  private readonly api = inject(Api);
  private readonly drafts = inject(Drafts);
  private readonly user = inject(CurrentUser);
  private readonly keys = inject(Keys);
  readonly record = input.required<SubjectRecord>();
  readonly written = output();
  private readonly key = computed(() => `note.${this.record().kind}.${this.record().id}`);
  /** What the editor begins with; it keeps its own text from then on. */
  protected readonly draft = linkedSignal(() => this.drafts.read(this.key()));
  protected readonly text = linkedSignal(() => this.drafts.read(this.key()));
  protected readonly isOpen = linkedSignal<string, boolean>({ source: this.key, computation: () => false });
  protected readonly also = linkedSignal<string, readonly { id: string; name: string }[]>({
    source: this.key,
    computation: () => [],
  });
  protected readonly at = signal('');
  protected readonly latest = computed(() => `${this.user.today()}T23:59`);
  protected readonly problem = signal<ApiProblem | null>(null);
  /** What is typed until the box is there is the beginning of the note. */
  protected takeTyped: (() => string) | null = null;
  private id = v7();

  constructor() {
    // Another record, or none: nobody waits for the box any more.
    effect((onCleanup) => {
      this.key();
      onCleanup(() => this.takeTyped?.());
    });
  }

  /** The box, with whatever is typed until it is there. */
  open(): void {
    if (this.isOpen()) return;
    this.takeTyped = this.keys.collect().take;
    this.isOpen.set(true);
  }

  protected keep(text: string): void {
    this.text.set(text);
    this.drafts.keep(this.key(), text);
  }

  protected add(row: { id: string; name: string }): void {
    if (!this.also().some((each) => each.id === row.id)) this.also.update((all) => [...all, row]);
  }

  protected drop(id: string): void {
    this.also.update((all) => all.filter((each) => each.id !== id));
  }

  protected leave(): void {
    this.takeTyped?.();
    this.keep('');
    this.draft.set('');
    this.isOpen.set(false);
    this.problem.set(null);
  }

  protected write(event?: Event): void {
    event?.preventDefault();
    if (!this.text()) return;
    const { kind, id } = this.record();
    const about = { contact: { contactId: id }, deal: { dealId: id }, company: { companyId: id } }[kind];
    const [day = '', time = '00:00'] = this.at().split('T');
    const [hour = 0, minute = 0] = time.split(':').map(Number);
    const at = day ? localMoment(day, hour * 60 + minute, this.user.zone()) : null;
    const body = {
      id: this.id,
      body: this.text(),
      isRich: true,
      at,
      alsoContactIds: this.also().map((each) => each.id),
      ...about,
    };
    this.api.call('writeNote', { body: body }).subscribe({
      next: () => {
        this.id = v7();
        this.at.set('');
        this.also.set([]);
        this.leave();
        this.written.emit();
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
