import { ChangeDetectionStrategy, Component, booleanAttribute, input, output } from '@angular/core';
import { type FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import type { Reading } from '../api/reading';
import { FormAnswer } from './form-answer';
import type { RecordForm } from './record-form';
import { Failed, Waiting } from './states';

/**
 * A form that stands on a page, as settings do: there once what it changes is read, with what the server answered and its button.
 * @example
 * <kettle-page-form act="Save rights" [form]="form" [stored]="stored" (save)="save()">
 *   <kettle-choice-field label="Who reads" [formControl]="form.controls.reading" [options]="readers" />
 * </kettle-page-form>
 */
@Component({
  selector: 'kettle-page-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormAnswer, MatButtonModule, Failed, Waiting, ReactiveFormsModule],
  template: `
    @if (stored() === null || stored()?.value() !== null) {
      <form
        [formGroup]="form()"
        (ngSubmit)="save.emit()"
        [class.inline]="inline()"
        [attr.aria-label]="name()"
      >
        <ng-content />
        <kettle-form-answer [form]="form()" [say]="say()" [named]="named()" [inRecord]="inRecord()" />
        <div class="spread">
          <button
            [matButton]="inline() ? 'outlined' : 'filled'"
            [disabled]="form().submission.isSending()"
            disabledInteractive
          >
            {{ act() }}
          </button>
          <ng-content select="[besideActs]" />
        </div>
      </form>
    } @else if (stored()?.state()?.kind !== 'failed') {
      <kettle-waiting />
    }
    @if (stored()?.state(); as state) {
      @if (state.kind === 'failed') {
        <kettle-failed [problem]="state.problem" (again)="stored()?.again()" />
      }
    }
  `,
  styles: `
    :host {
      display: block;
      inline-size: 100%;
    }
    form {
      display: grid;
      gap: var(--space-3);
      justify-items: start;
      inline-size: 100%;
    }
    form.inline {
      display: flex;
      flex-wrap: wrap;
      align-items: end;
      gap: var(--space-2);
    }
    form.inline kettle-form-answer {
      order: 1;
      inline-size: 100%;
    }
  `,
})
export class PageForm {
  readonly act = input('Save');
  /** What it is of, where several alike stand on a page. */
  readonly name = input<string | null>(null);
  /** Its fields and its button stand in one line. */
  readonly inline = input(false, { transform: booleanAttribute });
  readonly form = input.required<FormGroup & Pick<RecordForm, 'submission'>>();
  /** What is changed, as it is read; null where there is nothing to wait for. */
  readonly stored = input<Reading<never, object> | null>(null);
  readonly say = input<(path: string, value: unknown) => string | null>(() => null);
  readonly named = input<(path: string) => string | null>(() => null);
  readonly inRecord = input<Readonly<Record<string, string>>>({});
  readonly save = output();
}
