import { computed, inject, Injectable, signal } from '@angular/core';
import type { CallOf, CellValue, LeadCount, LeadRow } from '@kettle/contract';
import { leadGridFields } from '@kettle/contract/grids/leads';
import { map, type Observable, tap } from 'rxjs';
import { Api } from '../../api/api';
import type { RecordRef } from '../../services/selected-record';
import { PeopleWords } from '../fields/index';
import { bodyOfCell, type GridQuery, GridSpec } from '../grid/index';

/** The list of leads, by status unless another grouping is chosen. */
@Injectable()
export class LeadsGrid extends GridSpec<LeadRow> {
  private readonly api = inject(Api);
  private readonly names = inject(PeopleWords);
  readonly place = 'leads';
  readonly words = { one: $localize`lead`, many: $localize`leads`, counted: $localize`lead|leads` };
  readonly fields = leadGridFields;
  override readonly customFields = computed(() => this.names.fieldsOf('lead'));
  readonly usualColumns = 'name,subject,last-touch,next-step,warmth,source,owner';
  readonly usualSort = '-created';
  override readonly usualGroup = 'status';
  override readonly usual = { owner: 'mine' };
  readonly everything = { owner: 'all', status: null, source: null, campaign: null, warmth: null };
  readonly phoneKeys = ['next-step', 'subject', 'company'] as const;
  readonly topics = ['lead', 'journal', 'task', 'contact'] as const;
  readonly exportPath = '/api/leads/export';
  override readonly importKind = 'leads';
  /** Counts by status and the sources and campaigns in use, as they came with the last count. */
  readonly head = signal<Pick<LeadCount, 'counts' | 'sources' | 'campaigns'> | null>(null);

  nameOf = (row: LeadRow) => row.contactName;
  recordOf = (row: LeadRow): RecordRef => ({ kind: 'lead', id: row.id });
  ownerOf = (row: LeadRow) => ({ id: row.ownerId, name: row.ownerName });

  override linkOf(row: LeadRow, key: string): readonly string[] | null {
    return key === 'company' && row.companyId !== null ? ['/companies', row.companyId] : null;
  }

  rows(query: GridQuery, page: { after: number; limit: number }): Observable<readonly LeadRow[]> {
    const asked = { ...query, ...page } as unknown as CallOf<'listLeads'>['query'];
    return this.api.call('listLeads', { query: asked }).pipe(map(({ rows }) => rows));
  }

  count(query: GridQuery) {
    const asked = query as unknown as CallOf<'countLeads'>['query'];
    return this.api.call('countLeads', { query: asked }).pipe(tap((count) => this.head.set(count)));
  }

  override change = (
    row: LeadRow,
    cell: string,
    value: CellValue,
    changeId: string,
  ): Observable<Partial<LeadRow>> =>
    this.api.call(
      'changeLead',
      { params: { id: row.id }, body: { version: row.version, ...bodyOfCell(cell, value) } },
      changeId,
    );
}
