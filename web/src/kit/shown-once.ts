import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  inject,
  input,
  output,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { Notices } from '../services/notices';
import { TextField } from './text-field';

/**
 * A secret that is said this once: to be copied, in a field that nothing can be typed into.
 * @example <kettle-shown-once label="The key" i18n-label [value]="token" (kept)="token.set(null)" />
 */
@Component({
  selector: 'kettle-shown-once',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, TextField],
  template: `
    <kettle-text-field #box [label]="label()" [value]="value()" (valueChange)="box.value.set(value())" />
    <p i18n class="soft">It is shown only now. Copy it; when it is lost, make another.</p>
    <p class="acts">
      <button i18n matButton="outlined" type="button" (click)="copy()">Copy</button>
      <button i18n matButton type="button" (click)="kept.emit()">I have kept it</button>
    </p>
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-2);
      inline-size: 100%;
      padding: var(--space-3);
      border-inline-start: 2px solid var(--accent);
    }
    p {
      margin: 0;
    }
    .acts {
      display: flex;
      gap: var(--space-3);
    }
  `,
})
export class ShownOnce {
  private readonly notices = inject(Notices);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  readonly label = input.required<string>();
  readonly value = input.required<string>();
  /** Whoever reads it has it. */
  readonly kept = output();

  constructor() {
    // The form that asked for it may lie far below.
    afterNextRender(() => {
      this.host.nativeElement.scrollIntoView({ block: 'center' });
      this.host.nativeElement.querySelector('input')?.select();
    });
  }

  protected async copy(): Promise<void> {
    try {
      await navigator.clipboard.writeText(this.value());
      this.notices.say($localize`Copied.`);
    } catch {
      this.notices.say($localize`Your browser does not let us copy: mark it and copy it yourself.`);
    }
  }
}
