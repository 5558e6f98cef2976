import { inject, Injectable, computed } from '@angular/core';
import type { CallOf, CellValue, ContactRow } from '@kettle/contract';
import { gridFields } from '@kettle/contract/grids/people';
import { map, type Observable } from 'rxjs';
import { Api } from '../../api/api';
import type { RecordRef } from '../../services/selected-record';
import { PeopleWords } from '../fields/index';
import { type GridQuery, GridSpec } from '../grid/index';

/** The list of contacts. */
@Injectable()
export class PeopleGrid extends GridSpec<ContactRow> {
  private readonly api = inject(Api);
  private readonly words$ = inject(PeopleWords);
  readonly place = 'people';
  readonly words = { one: $localize`person`, many: $localize`people`, counted: $localize`person|people` };
  readonly fields = gridFields;
  override readonly customFields = computed(() => this.words$.fieldsOf('contact'));
  readonly usualColumns = 'name,company,last-touch,next-step,check-in,standing,owner';
  readonly usualSort = 'name';
  override readonly usual = { owner: 'all' };
  readonly everything = { owner: null, standing: null, quiet: null };
  readonly phoneKeys = ['next-step', 'company', 'standing'] as const;
  readonly topics = ['contact', 'journal', 'task', 'import', 'run', 'bulk', 'company'] as const;
  readonly exportPath = '/api/contacts/export';
  override readonly hasCards = true;

  nameOf = (row: ContactRow) => row.name;
  recordOf = (row: ContactRow): RecordRef => ({ kind: 'contact', id: row.id });
  ownerOf = (row: ContactRow) => ({ id: row.ownerId, name: row.ownerName });

  override linkOf(row: ContactRow, key: string): readonly string[] | null {
    return key === 'company' && row.companyId !== null ? ['/companies', row.companyId] : null;
  }

  rows(query: GridQuery, page: { after: number; limit: number }): Observable<readonly ContactRow[]> {
    const asked = { ...query, ...page } as unknown as CallOf<'listContacts'>['query'];
    return this.api.call('listContacts', { query: asked }).pipe(map(({ rows }) => rows));
  }

  count(query: GridQuery) {
    return this.api.call('countContacts', { query: query as unknown as CallOf<'countContacts'>['query'] });
  }

  override change = (row: ContactRow, field: string, value: CellValue, changeId: string) =>
    this.api.call(
      'changeCell',
      { params: { id: row.id }, body: { version: row.version, field: field as never, value } },
      changeId,
    );
}
