import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
  output,
  signal,
} from '@angular/core';
import { v7 } from 'uuid';
import { Api, type ApiProblem, problemOf } from '../../api/api';
import { Drafts } from '../../shell/drafts';
import type { OpenedRecord } from '../../shell/opened';

/** A note written straight into the journal; half-written ones survive a reload. */
@Component({
  selector: 'kettle-note-box',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form (submit)="write($event)">
      <label class="field">
        <span class="visually-hidden">Note</span>
        <textarea
          #box
          rows="1"
          placeholder="Write a note"
          [value]="text()"
          (input)="keep(box.value)"
          (keydown.control.enter)="write($event)"
        ></textarea>
        @if (problem(); as wrong) {
          <span class="wrong" role="alert">{{ wrong.message }}</span>
        }
      </label>
      @if (text().trim()) {
        <button class="act">Write it down</button>
      }
    </form>
  `,
  styles: `
    form {
      display: grid;
      gap: 6px;
      justify-items: start;
    }
    .field {
      inline-size: 100%;
    }
  `,
})
export class NoteBox {
  private readonly api = inject(Api);
  private readonly drafts = inject(Drafts);
  readonly record = input.required<OpenedRecord>();
  readonly written = output();
  private readonly key = computed(() => `note.${this.record().kind}.${this.record().id}`);
  protected readonly text = linkedSignal(() => this.drafts.read(this.key()));
  protected readonly problem = signal<ApiProblem | null>(null);

  protected keep(text: string): void {
    this.text.set(text);
    this.drafts.keep(this.key(), text);
  }

  protected write(event: Event): void {
    event.preventDefault();
    if (!this.text().trim()) return;
    const { kind, id } = this.record();
    const about = kind === 'contact' ? { contactId: id } : { dealId: id };
    this.api.call('writeNote', { body: { id: v7(), body: this.text(), ...about } }).subscribe({
      next: () => {
        this.keep('');
        this.problem.set(null);
        this.written.emit();
      },
      error: (error: unknown) => this.problem.set(problemOf(error)),
    });
  }
}
