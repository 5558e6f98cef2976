import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';

/** Won as a full length, expected as a hatched one, the quota as the right edge or a mark, and how far the month is as a notch. */
@Component({
  selector: 'kettle-quota-bar',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <i class="won" [style.inline-size.%]="share(wonMinor())"></i>
    <i
      class="expected"
      [style.inset-inline-start.%]="share(wonMinor())"
      [style.inline-size.%]="share(expectedMinor())"
    ></i>
    <i class="quota" [style.inset-inline-start.%]="share(quotaMinor())"></i>
    <i class="today" [style.inset-inline-start.%]="share(quotaMinor() * elapsed())"></i>
  `,
  host: { 'aria-hidden': 'true' },
  styles: `
    :host {
      position: relative;
      display: block;
      block-size: 16px;
      margin-block: var(--space-2);
      background: var(--hairline);
    }
    i {
      position: absolute;
      inset-block: 0;
    }
    .won {
      background: var(--link);
    }
    .expected {
      background: repeating-linear-gradient(45deg, var(--link) 0 2px, transparent 2px 6px);
    }
    .quota {
      inline-size: 2px;
      margin-inline-start: -2px;
      background: var(--text);
    }
    .today {
      inset-block: auto -4px;
      inline-size: 0;
      margin-inline-start: -4px;
      border: 4px solid transparent;
      border-block-end-color: var(--accent);
    }
  `,
})
export class QuotaBar {
  readonly wonMinor = input.required<number>();
  readonly expectedMinor = input.required<number>();
  readonly quotaMinor = input.required<number>();
  /** Of the month, 0 to 1. */
  readonly elapsed = input.required<number>();
  private readonly most = computed(() =>
    Math.max(1, this.quotaMinor(), this.wonMinor() + this.expectedMinor()),
  );

  protected share(minor: number): number {
    return (minor / this.most()) * 100;
  }
}
