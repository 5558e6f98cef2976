import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { type Params, RouterLink } from '@angular/router';

/** One line: what, how much as a length, and in words; pressed it shows its records. */
export interface BarRow {
  readonly name: string;
  readonly value: number;
  readonly words: string;
  readonly path: string;
  readonly query?: Params;
  readonly isPressing?: boolean;
}

/**
 * Values as lengths below each other, each a link to its records.
 * @example <kettle-bar-rows label="Leads by status" [rows]="rows()" />
 */
@Component({
  selector: 'kettle-bar-rows',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink],
  template: `
    <ul [attr.aria-label]="label()">
      @for (row of rows(); track row.name) {
        <li>
          <a [routerLink]="row.path" [queryParams]="row.query">{{ row.name }}</a>
          <span class="num" [class.now]="row.isPressing">{{ row.words }}</span>
          <i aria-hidden="true" [style.inline-size.%]="share(row)"></i>
        </li>
      }
    </ul>
  `,
  styles: `
    ul {
      display: grid;
      grid-template-columns: 1fr auto;
      gap: 6px var(--space-3);
    }
    li {
      display: grid;
      grid-template-columns: subgrid;
      grid-column: 1 / -1;
      row-gap: 2px;
    }
    a {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    i {
      grid-column: 1 / -1;
      block-size: 3px;
      min-inline-size: 1px;
      background: var(--link);
    }
  `,
})
export class BarRows {
  readonly label = input.required<string>();
  readonly rows = input.required<readonly BarRow[]>();
  private readonly most = computed(() => Math.max(1, ...this.rows().map(({ value }) => value)));

  protected share({ value }: BarRow): number {
    return (value / this.most()) * 100;
  }
}
