import { inject, Injectable } from '@angular/core';
import type { CallOf, CellValue, Task } from '@kettle/contract';
import { taskGridFields } from '@kettle/contract/grids/tasks';
import { map, type Observable } from 'rxjs';
import { Api } from '../../api/api';
import type { RecordRef } from '../../services/selected-record';
import { type GridQuery, GridSpec } from '../grid/index';

/** The list of tasks; what opens beside it is the person or the deal of a task. */
@Injectable()
export class TasksGrid extends GridSpec<Task> {
  private readonly api = inject(Api);
  readonly place = 'tasks';
  readonly words = { one: $localize`task`, many: $localize`tasks`, counted: $localize`task|tasks` };
  readonly fields = taskGridFields;
  readonly usualColumns = 'due,purpose,person,deal,owner,minutes';
  readonly usualSort = 'due';
  override readonly usual = { owner: 'mine', state: 'open' };
  readonly everything = { state: 'all', due: null, channel: null };
  override readonly nameKey = 'purpose';
  readonly phoneKeys = ['due', 'person', 'deal'] as const;
  readonly topics = ['task', 'journal', 'run', 'bulk'] as const;
  readonly exportPath = '/api/tasks/export';
  override readonly importKind = 'tasks';

  nameOf = (row: Task) => row.purpose;
  recordOf = ({ contactId, dealId }: Task): RecordRef | null => {
    if (contactId !== null) return { kind: 'contact', id: contactId };
    return dealId === null ? null : { kind: 'deal', id: dealId };
  };
  ownerOf = (row: Task) => ({ id: row.ownerId, name: row.ownerName });

  override linkOf(row: Task, key: string): readonly string[] | null {
    if (key === 'person' && row.contactId !== null) return ['/people', row.contactId];
    return key === 'deal' && row.dealId !== null ? ['/deals', row.dealId] : null;
  }

  rows(query: GridQuery, page: { after: number; limit: number }): Observable<readonly Task[]> {
    const asked = { ...query, ...page } as unknown as CallOf<'taskTable'>['query'];
    return this.api.call('taskTable', { query: asked }).pipe(map(({ rows }) => rows));
  }

  count(query: GridQuery) {
    return this.api.call('countTasks', { query: query as unknown as CallOf<'countTasks'>['query'] });
  }

  override change = (
    row: Task,
    cell: string,
    value: CellValue,
    changeId: string,
  ): Observable<Partial<Task>> =>
    this.api.call(
      'changeTask',
      { params: { id: row.id }, body: { version: row.version, [cell]: value } as never },
      changeId,
    );
}
