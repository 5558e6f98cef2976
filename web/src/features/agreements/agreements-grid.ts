import { inject, Injectable } from '@angular/core';
import type { AgreementRow, CallOf, CellValue } from '@kettle/contract';
import { agreementGridFields } from '@kettle/contract/grids/agreements';
import { map, type Observable } from 'rxjs';
import { Api } from '../../api/api';
import type { RecordRef } from '../../services/selected-record';
import { type GridQuery, GridSpec } from '../grid/index';

/** The list of agreements; what opens beside it is whom one is with. */
@Injectable()
export class AgreementsGrid extends GridSpec<AgreementRow> {
  private readonly api = inject(Api);
  readonly place = 'agreements';
  readonly words = {
    one: $localize`agreement`,
    many: $localize`agreements`,
    counted: $localize`agreement|agreements`,
  };
  readonly fields = agreementGridFields;
  readonly usualColumns = 'name,company,state,decision,yearly,notice,lead,ends,term,renews,owner';
  readonly usualSort = 'notice';
  override readonly usual = { owner: 'mine' };
  readonly everything = { owner: 'all' };
  readonly phoneKeys = ['value', 'company', 'notice'] as const;
  readonly topics = ['agreement'] as const;
  readonly exportPath = '/api/agreements/export';
  override readonly importKind = 'agreements';

  nameOf = (row: AgreementRow) => row.name;
  recordOf = ({ contactId, companyId }: AgreementRow): RecordRef | null => {
    if (contactId !== null) return { kind: 'contact', id: contactId };
    return companyId === null ? null : { kind: 'company', id: companyId };
  };
  ownerOf = (row: AgreementRow) => ({ id: row.ownerId, name: row.ownerName });

  override linkOf(row: AgreementRow, key: string): readonly string[] | null {
    if (key === 'name') return ['/agreements', row.id];
    if (key === 'company' && row.companyId !== null) return ['/companies', row.companyId];
    return key === 'person' && row.contactId !== null ? ['/people', row.contactId] : null;
  }

  rows(query: GridQuery, page: { after: number; limit: number }): Observable<readonly AgreementRow[]> {
    const asked = { ...query, ...page } as unknown as CallOf<'listAgreements'>['query'];
    return this.api.call('listAgreements', { query: asked }).pipe(map(({ rows }) => rows));
  }

  count(query: GridQuery) {
    return this.api.call('countAgreements', {
      query: query as unknown as CallOf<'countAgreements'>['query'],
    });
  }

  override change = (
    { id, version }: AgreementRow,
    cell: string,
    value: CellValue,
    changeId: string,
  ): Observable<Partial<AgreementRow>> =>
    this.api.call('changeAgreement', { params: { id }, body: { version, [cell]: value } as never }, changeId);
}
