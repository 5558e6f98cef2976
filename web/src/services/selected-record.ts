import { computed, inject, Injectable } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { NavigationEnd, Router } from '@angular/router';
import { filter, map } from 'rxjs';

export interface RecordRef {
  readonly kind: 'contact' | 'deal' | 'company' | 'lead';
  readonly id: string;
}

/** What a journal or a file is about; a lead's are its contact's. */
export interface SubjectRecord {
  readonly kind: Exclude<RecordRef['kind'], 'lead'>;
  readonly id: string;
}

const paths: Readonly<Record<RecordRef['kind'], string>> = {
  contact: '/people',
  deal: '/deals',
  company: '/companies',
  lead: '/deals/leads',
};

/** What the dossier beside the list shows: kept in the address, so that a link opens the same view. */
@Injectable({ providedIn: 'root' })
export class SelectedRecord {
  private readonly router = inject(Router);
  private readonly url = toSignal(
    this.router.events.pipe(
      filter((event) => event instanceof NavigationEnd),
      map(() => this.router.url),
    ),
    { initialValue: this.router.url },
  );

  readonly record = computed((): RecordRef | null => {
    const found = /^(contact|deal|company|lead):([0-9a-f-]{36})$/.exec(
      this.router.parseUrl(this.url()).queryParams['open'] ?? '',
    );
    return found ? { kind: found[1] as RecordRef['kind'], id: found[2]! } : null;
  });

  readonly path = computed(() => this.url().split(/[?#]/, 1)[0]!);

  open(record: RecordRef | null): void {
    this.setQuery({ open: record === null ? null : `${record.kind}:${record.id}` });
  }

  /** Changes some of the address's query and leaves the rest. */
  setQuery(queryParams: Record<string, string | null>): void {
    void this.router.navigate([], { queryParams, queryParamsHandling: 'merge', replaceUrl: true });
  }

  /** The address of a record as a page of its own. */
  pathOf({ kind, id }: RecordRef): string {
    return `${paths[kind]}/${id}`;
  }

  /** What is looked at, beside a list or as a page of its own. */
  readonly current = computed((): RecordRef | null => {
    const beside = this.record();
    if (beside !== null) return beside;
    const [, path, id] = /^(.*)\/([0-9a-f-]{36})(?:[?#]|$)/.exec(this.url()) ?? [];
    const kind = (Object.keys(paths) as RecordRef['kind'][]).find((each) => paths[each] === path);
    return kind === undefined || id === undefined ? null : { kind, id };
  });

  /** The contact that is looked at. */
  readonly contactId = computed((): string | null => {
    const current = this.current();
    return current?.kind === 'contact' ? current.id : null;
  });
}
