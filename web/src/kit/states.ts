import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { ApiProblem } from '../api/api';

/** Nothing to show: why, and what to do about it (the content). */
@Component({
  selector: 'kettle-empty',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>{{ title() }}</h2>
    <p class="soft"><ng-content /></p>
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-2);
      justify-items: start;
      padding: var(--space-6) 0;
      max-inline-size: 52ch;
    }
  `,
})
export class Empty {
  readonly title = input.required<string>();
}

/** A reading that failed, with the sentence and another try. */
@Component({
  selector: 'kettle-failed',
  imports: [MatButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p role="alert">
      <span class="now">{{ problem().message }}</span>
      <button i18n matButton type="button" (click)="again.emit()">Try again</button>
    </p>
  `,
  styles: `
    :host {
      display: block;
      padding-block: var(--space-3);
    }
  `,
})
export class Failed {
  readonly problem = input.required<ApiProblem>();
  readonly again = output();
}

/** Lines that stand in while something is read for the first time. */
@Component({
  selector: 'kettle-waiting',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <span i18n class="visually-hidden" role="status">Reading …</span>
    @for (line of lines; track line) {
      <i [style.inline-size.%]="line"></i>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-4);
      padding-block: var(--space-4);
    }
    i {
      block-size: 12px;
      border-radius: var(--radius);
      background: var(--band);
      animation: breathe 1.4s ease-in-out infinite alternate;
    }
    @keyframes breathe {
      to {
        opacity: 0.4;
      }
    }
  `,
})
export class Waiting {
  protected readonly lines = [72, 88, 64, 80, 56];
}
