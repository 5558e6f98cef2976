import { inject, Injectable } from '@angular/core';
import type {
  Company,
  Contact,
  ContactRow,
  Deal,
  DealRow,
  Lead,
  LeadRow,
  ReplyOf,
  RunSummary,
} from '@kettle/contract';
import { forkJoin, map, type Observable, of, switchMap } from 'rxjs';
import { Api } from '../../api/api';
import type { RecordRef, SubjectRecord } from '../../services/selected-record';

/** Reads everything that a dossier shows of a record: the record, who and what belongs to it. */
@Injectable({ providedIn: 'root' })
export class DossierReading {
  private readonly api = inject(Api);

  read(record: RecordRef) {
    const lead$: Observable<Lead | null> =
      record.kind === 'lead' ? this.api.call('getLead', { params: { id: record.id } }) : of(null);
    return lead$.pipe(
      switchMap((lead) => {
        const about: SubjectRecord =
          lead === null
            ? { kind: record.kind as SubjectRecord['kind'], id: record.id }
            : { kind: 'contact', id: lead.contactId };
        const leads$ =
          about.kind === 'deal'
            ? of([] as LeadRow[])
            : this.api
                .call('listLeads', {
                  query: {
                    owner: 'all',
                    [about.kind === 'contact' ? 'contactId' : 'companyId']: about.id,
                  } as never,
                })
                .pipe(map(({ rows }) => rows));
        return forkJoin({ of: this.readSubject(about), leads: leads$ }).pipe(
          map((read) => ({ ...read.of, lead, leads: read.leads })),
        );
      }),
    );
  }

  private readSubject(record: SubjectRecord) {
    const firm$ = (companyId: string | null | undefined): Observable<ReplyOf<'getCompany'> | null> =>
      companyId ? this.api.call('getCompany', { params: { id: companyId } }) : of(null);
    const agreements$ = (of: { companyId: string } | { contactId: string }) =>
      this.api
        .call('listAgreements', { query: { owner: 'all', archived: 'any', ...of } })
        .pipe(map(({ rows }) => rows));
    if (record.kind === 'company')
      return forkJoin({ firm: firm$(record.id), agreements: agreements$({ companyId: record.id }) }).pipe(
        map(({ firm, agreements }) => ({
          deal: null as Deal | null,
          contact: null as Contact | null,
          company: firm?.company ?? null,
          people: firm?.people ?? [],
          deals: firm?.deals ?? [],
          tasks: [] as ReplyOf<'listTasks'>['tasks'],
          runs: [] as RunSummary[],
          agreements,
        })),
      );
    const deal$: Observable<Deal | null> =
      record.kind === 'deal' ? this.api.call('getDeal', { params: { id: record.id } }) : of(null);
    return deal$.pipe(
      switchMap((deal) => {
        const contactId = record.kind === 'contact' ? record.id : deal?.contactId;
        const about = record.kind === 'deal' ? { dealId: record.id } : { contactId: record.id };
        const contact$: Observable<Contact | null> = contactId
          ? this.api.call('getContact', { params: { id: contactId } })
          : of(null);
        return contact$.pipe(
          switchMap((contact) =>
            forkJoin({
              deal: of(deal),
              contact: of(contact),
              company: of(null as Company | null),
              people: of([] as ContactRow[]),
              tasks: this.api.call('listTasks', { query: about }).pipe(map(({ tasks }) => tasks)),
              runs: contactId
                ? this.api.call('listRuns', { query: { contactId } }).pipe(map(({ runs }) => runs))
                : of([]),
              deals: forkJoin([firm$(contact?.companyId), this.dealsWith(contactId)]).pipe(
                map(([firm, own]) => {
                  const deals = [...(firm?.deals ?? []), ...(deal ? [deal] : []), ...own];
                  return [...new Map(deals.map((each) => [each.id, each])).values()];
                }),
              ),
              agreements: contact?.companyId
                ? agreements$({ companyId: contact.companyId })
                : contactId
                  ? agreements$({ contactId })
                  : of([]),
            }),
          ),
        );
      }),
    );
  }

  /** Deals with a person or in which they have a role, whoever's company they are. */
  private dealsWith(contact: string | null | undefined): Observable<DealRow[]> {
    if (!contact) return of([]);
    const query = { owner: 'all', status: 'any', contact, limit: 200 } as const;
    return this.api.call('pageDeals', { query }).pipe(map(({ rows }) => rows));
  }
}
