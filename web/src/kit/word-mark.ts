import { ChangeDetectionStrategy, Component } from '@angular/core';

/** The name with its small drawing of a kettle over ash. */
@Component({
  selector: 'kettle-word-mark',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg viewBox="0 0 24 24" aria-hidden="true">
      <path
        d="M6.2 20.2h11.6M7 20c-1.7-1.9-2.4-3.9-2.1-6 .4-2.7 2.6-4.6 6.1-4.6s5.8 1.9 6.2 4.6c.3 2.1-.5 4.1-2.2 6"
      />
      <path d="M17 12.6l3.4-1.7-.7 3.2M8.1 9.9C8.6 7 9.6 5.5 11 5.5s2.4 1.5 2.9 4.4" />
      <path class="ember" d="M11 3v.9" />
    </svg>
    {{ 'Ash Kettle' }}
  `,
  styles: `
    :host {
      display: inline-flex;
      align-items: center;
      gap: 10px;
      font-size: 16px;
      font-weight: 650;
      white-space: nowrap;
    }
    svg {
      inline-size: 20px;
      block-size: 20px;
      fill: none;
      stroke: var(--text);
      stroke-width: 1.7;
      stroke-linecap: round;
      stroke-linejoin: round;
    }
    .ember {
      stroke: var(--accent);
      stroke-width: 2.4;
    }
  `,
})
export class WordMark {}
