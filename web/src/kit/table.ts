import { CdkTableModule } from '@angular/cdk/table';
import { NgTemplateOutlet } from '@angular/common';
import {
  booleanAttribute,
  ChangeDetectionStrategy,
  Component,
  computed,
  contentChild,
  contentChildren,
  Directive,
  inject,
  input,
  TemplateRef,
} from '@angular/core';

interface CellContext<Row> {
  readonly $implicit: Row;
  readonly at: number;
}

/** A column: its cells, under its head. It is given the rows so that its cells know their type. */
@Directive({ selector: 'ng-template[kettleColumn]' })
export class Column<Row> {
  readonly template = inject<TemplateRef<CellContext<Row>>>(TemplateRef);
  readonly rows = input.required<readonly Row[]>({ alias: 'kettleColumn' });
  readonly head = input.required<string>();
  /** The head is for screen readers alone. */
  readonly isSilent = input(false, { transform: booleanAttribute });
  /** Figures stand below each other. */
  readonly isNumber = input(false, { transform: booleanAttribute });
  /** A width in CSS; by default what its cells need. */
  readonly size = input('');
  /** What stands in the head instead of its words: a checkbox for all rows. */
  readonly headOf = input<TemplateRef<unknown> | null>(null);

  static ngTemplateContextGuard<Row>(_: Column<Row>, context: unknown): context is CellContext<Row> {
    return context !== null;
  }
}

/** What stands below a row over its whole width; where it says nothing there is no line. */
@Directive({ selector: 'ng-template[kettleBelow]' })
export class Below<Row> {
  readonly template = inject<TemplateRef<CellContext<Row>>>(TemplateRef);
  readonly rows = input.required<readonly Row[]>({ alias: 'kettleBelow' });

  static ngTemplateContextGuard<Row>(_: Below<Row>, context: unknown): context is CellContext<Row> {
    return context !== null;
  }
}

/**
 * A table of few rows. On a phone each row stands as a block, its heads beside their cells. Lists of records are the record grid's.
 * @example
 * <kettle-table [rows]="all()" label="Cadences" empty="No cadence yet.">
 *   <ng-template [kettleColumn]="all()" head="name" let-each>{{ each.name }}</ng-template>
 *   <ng-template [kettleColumn]="all()" head="steps" isNumber let-each>{{ each.steps }}</ng-template>
 * </kettle-table>
 */
@Component({
  selector: 'kettle-table',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CdkTableModule, NgTemplateOutlet],
  template: `
    <table
      cdk-table
      [dataSource]="rows()"
      [trackBy]="trackBy()"
      multiTemplateDataRows
      [class.tight]="isTight()"
      [attr.aria-label]="label() || null"
    >
      @for (column of columns(); track column; let at = $index) {
        <ng-container [cdkColumnDef]="'' + at">
          <th
            cdk-header-cell
            *cdkHeaderCellDef
            [class.num]="column.isNumber()"
            [style.inline-size]="column.size() || null"
          >
            @if (column.headOf(); as own) {
              <ng-container [ngTemplateOutlet]="own" />
            } @else {
              <span [class.visually-hidden]="column.isSilent()">{{ column.head() }}</span>
            }
          </th>
          <td
            cdk-cell
            *cdkCellDef="let row; let index = dataIndex"
            [class.num]="column.isNumber()"
            [class.lead]="at === lead()"
            [class.act]="column.isSilent() && at > lead()"
            [attr.data-head]="column.isSilent() || at <= lead() ? null : column.head()"
          >
            <ng-container
              [ngTemplateOutlet]="column.template"
              [ngTemplateOutletContext]="{ $implicit: row, at: index }"
            />
          </td>
        </ng-container>
      }
      @if (below(); as part) {
        <ng-container cdkColumnDef="below">
          <td cdk-cell *cdkCellDef="let row; let index = dataIndex" [attr.colspan]="columns().length">
            <ng-container
              [ngTemplateOutlet]="part.template"
              [ngTemplateOutletContext]="{ $implicit: row, at: index }"
            />
          </td>
        </ng-container>
      }
      <tr cdk-header-row *cdkHeaderRowDef="names()" [class.visually-hidden]="isHeadless()"></tr>
      <tr
        cdk-row
        *cdkRowDef="let row; columns: names()"
        [class.chosen]="isChosen()(row)"
        [class.faded]="isFaded()(row)"
      ></tr>
      @if (below(); as part) {
        <tr cdk-row class="below" *cdkRowDef="let row; columns: ['below']"></tr>
      }
      <tr *cdkNoDataRow>
        <td class="soft" [attr.colspan]="columns().length">{{ empty() }}</td>
      </tr>
    </table>
  `,
  styleUrl: './table.scss',
})
export class Table<Row> {
  readonly rows = input.required<readonly Row[]>();
  readonly label = input('');
  /** What is said where there is no row. */
  readonly empty = input('Nothing yet.');
  /** Heads that say nothing new are for screen readers alone. */
  readonly isHeadless = input(false, { transform: booleanAttribute });
  readonly isChosen = input<(row: Row) => boolean>(() => false);
  /** Fields in the cells need no room around them. */
  readonly isTight = input(false, { transform: booleanAttribute });
  /** What counts no more stands back. */
  readonly isFaded = input<(row: Row) => boolean>(() => false);
  /** What tells rows apart; by default the row itself. */
  readonly by = input<(row: Row, at: number) => unknown>((row) => row);

  protected readonly columns = contentChildren<Column<Row>>(Column);
  protected readonly below = contentChild<Below<Row>>(Below);
  protected readonly names = computed(() => this.columns().map((_, at) => String(at)));
  /** What a row is called: the first column that has a head. */
  protected readonly lead = computed(() => this.columns().findIndex((column) => !column.isSilent()));
  protected readonly trackBy = computed(() => (at: number, row: Row) => this.by()(row, at));
}

export const tableParts = [Table, Column, Below] as const;
