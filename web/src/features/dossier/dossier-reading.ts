import { computed, inject, Injectable, signal } from '@angular/core';
import type {
  AgreementRow,
  CallOf,
  ChangeTopic,
  DealRow,
  Dossier,
  DossierPart,
  LeadRow,
  ReplyOf,
} from '@kettle/contract';
import { forkJoin, map, type Observable, of, tap } from 'rxjs';
import { Api } from '../../api/api';
import { reading, type Reading } from '../../api/reading';
import type { RecordRef } from '../../services/selected-record';

type Query = NonNullable<CallOf<'getDossier'>['query']>;
/** Whom the tabs are about: the person, or the company. */
interface Whom {
  readonly contactId: string | null;
  readonly companyId: string | null;
}
const allParts: readonly DossierPart[] = ['record', 'steps', 'journal'];

/** What has to be read again after a change; what stands behind a tab only when it has been looked at. */
const partsOf: Partial<Readonly<Record<ChangeTopic, readonly DossierPart[]>>> = {
  journal: ['record', 'journal'],
  task: ['record', 'steps'],
  contact: ['record', 'journal'],
  company: ['record', 'journal'],
  deal: ['record', 'journal'],
  lead: ['record', 'journal'],
  agreement: ['record', 'journal'],
  run: ['record', 'steps', 'journal'],
  file: ['journal'],
};
export const dossierTopics = Object.keys(partsOf) as ChangeTopic[];

/** What a dossier shows of one record: at first in one request, then only what changed; what is behind a tab when it is opened. */
@Injectable()
export class DossierReading {
  private readonly api = inject(Api);
  private readonly record = signal<RecordRef | null>(null);
  /** What is not read yet, or was changed since. */
  private readonly due = new Set<DossierPart>();

  readonly first = reading(({ query, known }: { query: Query; known: Dossier }) =>
    this.api.call('getDossier', { query }).pipe(
      tap(() => this.due.clear()),
      map((read): Dossier => ({ ...known, ...read })),
    ),
  );
  readonly whole = computed(() => this.first.value()?.record ?? null);
  readonly steps = computed(() => this.first.value()?.steps ?? []);
  readonly journal = computed(() => this.first.value()?.journal ?? null);

  readonly deals = this.behindTab(
    (whom): Observable<{ deals: readonly DealRow[]; leads: readonly LeadRow[] }> =>
      forkJoin({ deals: this.dealsOf(whom), leads: this.leadsOf(whom) }),
  );
  readonly people = this.behindTab(({ companyId }) =>
    this.firm(companyId).pipe(map((firm) => firm?.people ?? [])),
  );
  readonly agreements = this.behindTab(({ contactId, companyId }): Observable<readonly AgreementRow[]> => {
    const about = companyId === null ? { contactId: contactId ?? undefined } : { companyId };
    return this.api
      .call('listAgreements', { query: { owner: 'all', archived: 'any', ...about } as never })
      .pipe(map(({ rows }) => rows));
  });
  readonly runs = this.behindTab(({ contactId }) =>
    contactId === null
      ? of([])
      : this.api.call('listRuns', { query: { contactId } as never }).pipe(map(({ runs }) => runs)),
  );
  private readonly tabs = [this.deals, this.people, this.agreements, this.runs];
  /** Why what is behind a tab that is open could not be read. */
  readonly tabProblem = computed(
    () => this.tabs.map((tab) => tab.problem()).find((each) => each !== null) ?? null,
  );

  open(record: RecordRef): void {
    this.record.set(record);
    for (const tab of this.tabs) tab.forget();
    this.read(allParts);
  }

  /** Everything that is on screen. */
  again(): void {
    this.read(allParts);
    for (const tab of this.tabs) tab.again();
  }

  /** What these changes concern. */
  follow(topics: ReadonlySet<ChangeTopic>): void {
    const parts = new Set([...topics].flatMap((topic) => partsOf[topic] ?? []));
    if (parts.size > 0) this.read([...parts]);
    const has = (...among: ChangeTopic[]) => among.some((topic) => topics.has(topic));
    if (has('deal', 'lead', 'company')) this.deals.again();
    if (has('contact', 'company')) this.people.again();
    if (has('agreement')) this.agreements.again();
    if (has('run')) this.runs.again();
  }

  read(parts: readonly DossierPart[]): void {
    const record = this.record();
    if (record === null) return;
    for (const part of parts) this.due.add(part);
    // What was not read of another record is still due: what is known is always of this one in the end.
    const query = { [`${record.kind}Id`]: record.id, parts: [...this.due].join() } as Query;
    this.first.read({ query, known: this.first.value() ?? {} });
  }

  private whom(): Whom | null {
    const all = this.whole();
    if (all === null) return null;
    const { company, contact } = all;
    return { contactId: contact?.id ?? null, companyId: company?.id ?? contact?.companyId ?? null };
  }

  /** Read when it is looked at, and from then on whenever it changed. */
  private behindTab<Value>(ask: (whom: Whom) => Observable<Value>) {
    const read: Reading<Whom, Value> = reading(ask);
    const isWanted = signal(false);
    const look = () => {
      const whom = this.whom();
      if (whom !== null) read.read(whom);
    };
    return {
      problem: computed(() => {
        const state = read.state();
        return isWanted() && state.kind === 'failed' ? state.problem : null;
      }),
      value: computed(() => (isWanted() ? read.value() : null)),
      want: () => {
        if (isWanted()) return;
        isWanted.set(true);
        look();
      },
      again: () => {
        if (isWanted()) look();
      },
      forget: () => isWanted.set(false),
    };
  }

  private firm(companyId: string | null): Observable<ReplyOf<'getCompany'> | null> {
    return companyId === null ? of(null) : this.api.call('getCompany', { params: { id: companyId } });
  }

  /** Of the company, and those with the person or in which they have a role, whoever's company they are. */
  private dealsOf({ contactId, companyId }: Whom): Observable<readonly DealRow[]> {
    const query = { owner: 'all', status: 'any', contact: contactId, limit: 200 } as never;
    const own$ = contactId === null ? of({ rows: [] }) : this.api.call('pageDeals', { query });
    return forkJoin([this.firm(companyId), own$]).pipe(
      map(([firm, own]) => {
        const deals: DealRow[] = [...(firm?.deals ?? []), ...own.rows];
        return [...new Map(deals.map((each) => [each.id, each])).values()];
      }),
    );
  }

  private leadsOf({ contactId, companyId }: Whom): Observable<readonly LeadRow[]> {
    const about = contactId === null ? { companyId } : { contactId };
    return this.api
      .call('listLeads', { query: { owner: 'all', ...about } as never })
      .pipe(map(({ rows }) => rows));
  }
}
