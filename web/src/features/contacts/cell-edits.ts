import { inject, Injectable, signal } from '@angular/core';
import type { CellValue, ContactRow } from '@kettle/contract';
import { firstValueFrom } from 'rxjs';
import { v7 } from 'uuid';
import { Api, problemOf } from '../../api/api';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import type { EditEnd } from './cell-editor';
import type { Column } from './grid-columns';
import { PeopleStore } from './people.store';
import { PeopleView } from './people-view';

/** The cell that is being edited, and the one the keyboard is on. */
@Injectable()
export class CellEdits {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly user = inject(CurrentUser);
  private readonly store = inject(PeopleStore);
  private readonly view = inject(PeopleView);
  private readonly editing = signal<{ id: string; key: string } | null>(null);
  /** The column the keyboard is on. */
  readonly at = signal(0);
  readonly problem = signal<string | null>(null);

  stepColumn(by: number): void {
    this.at.update((at) => Math.max(0, Math.min(this.view.columns().length - 1, at + by)));
  }

  edit(row: ContactRow, column: Column): void {
    if (column.cell === null || column.type === 'person') return;
    if (!this.user.mayChange(row.ownerId))
      return this.notices.say(`${row.name} belongs to ${row.ownerName ?? 'a colleague'}, who can change it.`);
    this.problem.set(null);
    this.at.set(this.view.columns().indexOf(column));
    this.editing.set({ id: row.id, key: column.key });
  }

  /** Edits the row's cell that the keyboard is on, else its first that can be edited. */
  editRow(row: ContactRow): void {
    const columns = this.view.columns();
    const column = columns[this.at()]?.cell ? columns[this.at()] : columns.find((each) => each.cell !== null);
    if (column) this.edit(row, column);
  }

  isEditing(row: ContactRow, column: Column): boolean {
    const cell = this.editing();
    return cell !== null && cell.id === row.id && cell.key === column.key;
  }

  leave(): void {
    this.editing.set(null);
  }

  async save(row: ContactRow, column: Column, value: CellValue, end: EditEnd): Promise<void> {
    const isSame = JSON.stringify(cellValue(row, column)) === JSON.stringify(value);
    if (!isSame && !(await this.write(row, column, value))) return;
    this.leave();
    if (end === 'next') this.editNext(row, column);
  }

  private async write(row: ContactRow, column: Column, value: CellValue): Promise<boolean> {
    const changeId = v7();
    const call = { params: { id: row.id }, body: { version: row.version, field: column.cell!, value } };
    try {
      const changed = await firstValueFrom(this.api.call('changeCell', call, changeId));
      this.store.put(changed);
      this.undo.offer(`${changed.name}: ${column.name} changed.`, changeId, () => this.store.again());
      return true;
    } catch (error) {
      const problem = problemOf(error);
      this.problem.set(problem.fields[0]?.message ?? problem.message);
      if (problem.code === 'stale') this.store.again();
      if (problem.fields.length === 0) this.notices.problem(problem);
      else this.notices.say(`${column.name} ${problem.fields[0]!.message}.`);
      return false;
    }
  }

  private editNext(row: ContactRow, column: Column): void {
    const columns = this.view.columns();
    const next = columns.slice(columns.indexOf(column) + 1).find((each) => each.cell !== null);
    const now = this.store.find(row.id)?.row;
    if (next && now) this.edit(now, next);
  }
}

function cellValue(row: ContactRow, column: Column): CellValue {
  if (column.cell?.startsWith('custom:')) return row.custom[column.cell.slice('custom:'.length)] ?? null;
  return row[column.cell as 'email'] ?? null;
}
