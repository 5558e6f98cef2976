import { computed, inject, Injectable } from '@angular/core';
import type { CallOf, CellValue, CompanyRow } from '@kettle/contract';
import { companyGridFields } from '@kettle/contract/grids/companies';
import { map, type Observable } from 'rxjs';
import { Api } from '../../api/api';
import type { RecordRef } from '../../services/selected-record';
import { PeopleWords } from '../fields/index';
import { bodyOfCell, type GridQuery, GridSpec } from '../grid/index';

/** The list of companies. */
@Injectable()
export class CompaniesGrid extends GridSpec<CompanyRow> {
  private readonly api = inject(Api);
  private readonly names = inject(PeopleWords);
  readonly place = 'companies';
  readonly words = {
    one: $localize`company`,
    many: $localize`companies`,
    counted: $localize`company|companies`,
  };
  readonly fields = companyGridFields;
  override readonly customFields = computed(() => this.names.fieldsOf('company'));
  readonly usualColumns = 'name,city,open-value,last-touch,people,open-deals,trade,owner';
  readonly usualSort = 'name';
  override readonly usual = { owner: 'all' };
  readonly everything = { owner: null };
  readonly phoneKeys = ['open-value', 'city', 'trade', 'owner'] as const;
  readonly topics = ['company', 'contact', 'deal', 'journal'] as const;
  readonly exportPath = '/api/companies/export';
  override readonly importKind = 'companies';

  nameOf = (row: CompanyRow) => row.name;
  recordOf = (row: CompanyRow): RecordRef => ({ kind: 'company', id: row.id });
  ownerOf = (row: CompanyRow) => ({ id: row.ownerId, name: row.ownerName });

  rows(query: GridQuery, page: { after: number; limit: number }): Observable<readonly CompanyRow[]> {
    const asked = { ...query, ...page } as unknown as CallOf<'listCompanies'>['query'];
    return this.api.call('listCompanies', { query: asked }).pipe(map(({ rows }) => rows));
  }

  count(query: GridQuery) {
    return this.api.call('countCompanies', { query: query as unknown as CallOf<'countCompanies'>['query'] });
  }

  override change = (
    row: CompanyRow,
    cell: string,
    value: CellValue,
    changeId: string,
  ): Observable<Partial<CompanyRow>> => {
    const { id, version } = row;
    const body = { version, ...bodyOfCell(cell, value) } as never;
    return this.api.call('changeCompany', { params: { id }, body }, changeId);
  };
}
