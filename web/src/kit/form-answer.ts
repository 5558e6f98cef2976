import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { FormGroup } from '@angular/forms';
import { Conflicts } from './conflicts';
import type { RecordForm } from './record-form';

/** What came of sending a form: why it was refused, and what another person changed meanwhile. */
@Component({
  selector: 'kettle-form-answer',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Conflicts],
  template: `
    @if (form().submission.problem(); as wrong) {
      <p class="wrong" role="alert">{{ wrong.message }}</p>
    }
    @for (each of unmarked(); track each) {
      <p class="wrong">{{ each }}</p>
    }
    <kettle-conflicts
      [problem]="form().submission.problem()"
      [sent]="form().submission.sent()"
      [say]="say()"
      [label]="named()"
      [inRecord]="inRecord()"
      [(choices)]="form().submission.choices"
    />
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-3);
    }
    :host:not(:has(*)) {
      display: none;
    }
  `,
})
export class FormAnswer {
  readonly form = input.required<FormGroup & Pick<RecordForm, 'submission'>>();
  /** Values of a conflict in words, what the record calls a field, and what the form does: as in `kettle-conflicts`. */
  readonly say = input<(path: string, value: unknown) => string | null>(() => null);
  readonly named = input<(path: string) => string | null>(() => null);
  readonly inRecord = input<Readonly<Record<string, string>>>({});
  /** What is wrong with something that has a name and no field of its own: ticks, a list. */
  protected readonly unmarked = computed(() => {
    const problem = this.form().submission.problem();
    if (problem?.code !== 'invalid-request') return [];
    return problem.fields.flatMap(({ path, message }) => {
      const name = this.form().get(path) === null ? this.named()(path) : null;
      return name === null ? [] : [`${name}: ${message}`];
    });
  });
}
