import { inject, Injectable, signal } from '@angular/core';
import type { CellValue } from '@kettle/contract';
import { firstValueFrom } from 'rxjs';
import { v7 } from 'uuid';
import { problemOf } from '../../api/api';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import type { EditEnd } from './cell-editor';
import type { Column } from './columns';
import { type GridRow, GridSpec } from './grid-spec';
import { GridStore } from './grid-store';
import { GridView } from './grid-view';

/** The cell that is being edited, and the one the keyboard is on. */
@Injectable()
export class CellEdits<Row extends GridRow = GridRow> {
  private readonly spec = inject<GridSpec<Row>>(GridSpec);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly user = inject(CurrentUser);
  private readonly store = inject<GridStore<Row>>(GridStore);
  private readonly view = inject<GridView<Row>>(GridView);
  private readonly editing = signal<{ id: string; key: string } | null>(null);
  /** The column the keyboard is on. */
  readonly at = signal(0);
  readonly problem = signal<string | null>(null);

  canEdit(column: Column<Row>): boolean {
    return this.spec.change !== undefined && column.cell !== null && column.type !== 'person';
  }

  stepColumn(by: number): void {
    this.at.update((at) => Math.max(0, Math.min(this.view.fitting().length - 1, at + by)));
  }

  edit(row: Row, column: Column<Row>): void {
    if (!this.canEdit(column)) return;
    const owner = this.spec.ownerOf(row);
    if (!(this.spec.mayChange(row) ?? this.user.mayChange(owner.id)))
      return this.notices.say(
        $localize`${this.spec.nameOf(row)}:row: belongs to ${owner.name ?? $localize`a colleague`}:name:, who can change it.`,
      );
    this.problem.set(null);
    this.at.set(this.view.fitting().findIndex(({ key }) => key === column.key));
    this.editing.set({ id: row.id, key: column.key });
  }

  /** Edits the row's cell that the keyboard is on, else its first that can be edited. */
  editRow(row: Row): void {
    const columns = this.view.fitting();
    const at = columns[this.at()];
    const column = at && this.canEdit(at) ? at : columns.find((each) => this.canEdit(each));
    if (column) this.edit(row, column);
  }

  isEditing(row: Row, column: Column<Row>): boolean {
    const cell = this.editing();
    return cell !== null && cell.id === row.id && cell.key === column.key;
  }

  leave(): void {
    this.editing.set(null);
  }

  async save(row: Row, column: Column<Row>, value: CellValue, end: EditEnd): Promise<void> {
    const isSame = JSON.stringify(this.spec.valueOf(row, column.cell!)) === JSON.stringify(value);
    if (!isSame && !(await this.write(row, column, value))) return;
    this.leave();
    if (end === 'next') this.editNext(row, column);
  }

  private async write(row: Row, column: Column<Row>, value: CellValue): Promise<boolean> {
    const changeId = v7();
    try {
      const changed = await firstValueFrom(this.spec.change!(row, column.cell!, value, changeId));
      this.store.put(row.id, changed);
      this.undo.offer($localize`${this.spec.nameOf(row)}:row:: ${column.name}:name: changed.`, changeId, () =>
        this.store.again(),
      );
      return true;
    } catch (error) {
      const problem = problemOf(error);
      const [field] = problem.fields;
      if (problem.code === 'stale') this.store.again();
      if (field !== undefined) this.refuse(column, field.message);
      else {
        this.problem.set(problem.message);
        this.notices.problem(problem);
      }
      return false;
    }
  }

  /** A cell has no room for words: they stand at the foot of the screen, and with the field for whoever hears it. */
  refuse(column: Column<Row>, reason: string): void {
    this.problem.set(reason);
    this.notices.say(`${column.name} ${reason}.`);
  }

  private editNext(row: Row, column: Column<Row>): void {
    const columns = this.view.fitting();
    const next = columns
      .slice(columns.findIndex(({ key }) => key === column.key) + 1)
      .find((each) => this.canEdit(each));
    const now = this.store.find(row.id)?.row;
    if (next && now) this.edit(now, next);
  }
}
