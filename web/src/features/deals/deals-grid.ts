import { computed, inject, Injectable } from '@angular/core';
import type { CallOf, CellValue, DealGridRow } from '@kettle/contract';
import { dealGridFields } from '@kettle/contract/grids/deals';
import { map, type Observable } from 'rxjs';
import { Api } from '../../api/api';
import { CurrentUser } from '../../services/current-user';
import type { RecordRef } from '../../services/selected-record';
import { bodyOfCell, type GridQuery, GridSpec } from '../grid/index';
import { DealWords } from './deal-words';
import { periodOf } from './periods';

/** The list of deals. */
@Injectable()
export class DealsGrid extends GridSpec<DealGridRow> {
  private readonly api = inject(Api);
  private readonly user = inject(CurrentUser);
  private readonly names = inject(DealWords);
  readonly place = 'deals';
  readonly words = { one: $localize`deal`, many: $localize`deals`, counted: $localize`deal|deals` };
  readonly fields = dealGridFields;
  override readonly customFields = computed(() => this.names.fields());
  override readonly options = computed(() => ({
    stage: this.names.stages().map(({ id, name }) => ({ value: id as string, name })),
    pipeline: this.names.pipelines().map(({ id, name }) => ({ value: id as string, name })),
  }));
  readonly usualColumns = 'name,value,stage,last-touch,next-step,close,owner,weighted';
  readonly usualSort = 'next-step';
  override readonly usual = { owner: 'mine', status: 'open' };
  readonly everything = { owner: 'all', status: 'any', show: null, pipeline: null, period: null };
  readonly phoneKeys = ['value', 'stage', 'next-step', 'company'] as const;
  readonly topics = ['deal', 'task', 'journal', 'pipeline'] as const;
  readonly exportPath = '/api/deals/export';
  override readonly importKind = 'deals';

  nameOf = (row: DealGridRow) => row.name;
  recordOf = (row: DealGridRow): RecordRef => ({ kind: 'deal', id: row.id });
  ownerOf = (row: DealGridRow) => ({ id: row.ownerId, name: row.ownerName });
  override mayChange = (row: DealGridRow) => this.user.mayChangeDeal(row);

  override linkOf(row: DealGridRow, key: string): readonly string[] | null {
    if (key === 'company' && row.companyId !== null) return ['/companies', row.companyId];
    return key === 'contact' && row.contactId !== null ? ['/people', row.contactId] : null;
  }

  rows(query: GridQuery, page: { after: number; limit: number }): Observable<readonly DealGridRow[]> {
    const asked = { ...this.asked(query), ...page } as unknown as CallOf<'pageDeals'>['query'];
    return this.api.call('pageDeals', { query: asked }).pipe(map(({ rows }) => rows));
  }

  count(query: GridQuery) {
    const asked = this.asked(query) as unknown as CallOf<'countDeals'>['query'];
    return this.api.call('countDeals', { query: asked });
  }

  /** The address names a period; the server is asked for its days. */
  asked({ period, ...query }: GridQuery): GridQuery {
    const days = periodOf(period, this.user.today());
    return { ...query, ...(days && { from: days.from, to: days.to }) };
  }

  override change = (
    row: DealGridRow,
    cell: string,
    value: CellValue,
    changeId: string,
  ): Observable<Partial<DealGridRow>> => {
    const { version, name, stageId, amountMinor, expectedCloseOn } = row;
    const body = { version, name, stageId, amountMinor, expectedCloseOn, ...bodyOfCell(cell, value) };
    return this.api
      .call('changeDeal', { params: { id: row.id }, body: body as never }, changeId)
      .pipe(map((deal) => ({ ...deal, pipelineId: row.pipelineId })));
  };
}
