import { inject, Injectable, signal } from '@angular/core';
import type { CallOf, MailCount, MailRow } from '@kettle/contract';
import { mailGridFields, mailWith } from '@kettle/contract/grids/mail';
import { map, type Observable, tap } from 'rxjs';
import { Api } from '../../api/api';
import { type GridQuery, GridSpec } from '../grid/index';

/** The list of mail of one box; a mail is read beside it. */
@Injectable()
export class MailGrid extends GridSpec<MailRow> {
  private readonly api = inject(Api);
  readonly place = 'mail';
  readonly words = { one: $localize`mail`, many: $localize`mails`, counted: $localize`mail|mails` };
  readonly fields = mailGridFields;
  readonly usualColumns = 'with,subject,at';
  readonly usualSort = '-at';
  override readonly usual = { box: 'unfiled' };
  override readonly tabKey = 'box';
  readonly everything = {};
  override readonly nameKey = 'with';
  readonly phoneKeys = ['at', 'subject'] as const;
  readonly topics = ['mail', 'stirring', 'contact'] as const;
  readonly exportPath = '/api/mail/export';
  /** How many each box holds, as it came with the last count. */
  readonly boxes = signal<MailCount['counts'] | null>(null);

  nameOf = (row: MailRow) => `${mailWith(row)}, ${row.subject}`;
  recordOf = () => null;
  ownerOf = (row: MailRow) => ({ id: row.ownerId, name: row.ownerName });
  /** Whoever may read a mail may file or dismiss it; filing asks for the person's own rights. */
  override mayChange = () => true;

  override linkOf(row: MailRow, key: string): readonly string[] | null {
    if (key === 'person' && row.contactId !== null) return ['/people', row.contactId];
    return key === 'deal' && row.dealId !== null ? ['/deals', row.dealId] : null;
  }

  rows(query: GridQuery, page: { after: number; limit: number }): Observable<readonly MailRow[]> {
    const asked = { ...query, ...page } as unknown as CallOf<'listMail'>['query'];
    return this.api.call('listMail', { query: asked }).pipe(map(({ rows }) => rows));
  }

  count(query: GridQuery) {
    const asked = query as unknown as CallOf<'countMail'>['query'];
    return this.api.call('countMail', { query: asked }).pipe(tap(({ counts }) => this.boxes.set(counts)));
  }
}
