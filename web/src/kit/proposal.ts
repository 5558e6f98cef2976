import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import type { AbstractControl } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { startWith, switchMap } from 'rxjs';

/**
 * A value that was found for a field, beside it: one press takes it. Gone while the field says the same.
 * @example <kettle-proposal name="Job title" [control]="person.jobTitle" said="Head Baker" />
 */
@Component({
  selector: 'kettle-proposal',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule],
  template: `
    @if (isOffered()) {
      <button matButton type="button" class="small" [attr.aria-label]="words()" (click)="take()">
        {{ shown() }}
      </button>
    }
  `,
  styles: `
    :host {
      display: block;
      min-block-size: 0;
    }
    button {
      max-inline-size: 100%;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
  `,
})
export class Proposal {
  /** What the field is called. */
  readonly name = input.required<string>();
  readonly control = input.required<AbstractControl<string>>();
  readonly said = input.required<string | null>();
  /** The value as a person writes it, where that differs. */
  readonly asWritten = input<string>();
  private readonly value = toSignal(
    toObservable(this.control).pipe(
      switchMap((control) => control.valueChanges.pipe(startWith(control.value))),
    ),
    { initialValue: '' },
  );
  protected readonly shown = computed(() => this.asWritten() ?? this.said() ?? '');
  protected readonly isOffered = computed(() => {
    const said = this.said();
    return said !== null && said !== '' && said !== this.value().trim();
  });
  protected readonly words = computed(() => $localize`${this.name()}:name:: take ${this.shown()}:value:`);

  protected take(): void {
    this.control().setValue(this.said() ?? '');
    this.control().markAsDirty();
  }
}
