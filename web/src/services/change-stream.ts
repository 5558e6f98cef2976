import { inject, Injectable, signal } from '@angular/core';
import type { ChangeNotice, ChangeTopic, OthersNotice } from '@kettle/contract';
import {
  auditTime,
  concatMap,
  debounceTime,
  defer,
  filter,
  map,
  merge,
  Observable,
  Subject,
  tap,
} from 'rxjs';
import { endpoints } from '@kettle/contract/endpoints';
import { Api } from '../api/api';
import { CurrentUser } from './current-user';
import { whenDrawn } from './when-drawn';

const settleMillis = 120;
const elsewhereEvery = 30_000;

/** What is heard: of which topic, of which records and what they are about (null: of many), and whether it concerns whoever is signed in. */
interface Heard {
  readonly topic: ChangeTopic;
  readonly ids: readonly string[] | null;
  readonly isMine: boolean;
}

/** What changes on the server while this browser is open. The browser itself reconnects and asks for what it missed. */
@Injectable({ providedIn: 'root' })
export class ChangeStream {
  private readonly user = inject(CurrentUser);
  private readonly api = inject(Api);
  private readonly notices = new Subject<Heard | 'resync'>();
  private source: EventSource | null = null;
  private readonly connected = signal(true);

  /** False while the stream is broken and being opened again. */
  readonly isLive = this.connected.asReadonly();

  open(): void {
    if (this.source !== null || typeof EventSource === 'undefined') return;
    const path = endpoints.changes.split(' ')[1]!;
    const last = this.user.session()?.lastChange;
    const from = last ? `?after=${last.id}&knownAt=${encodeURIComponent(last.knownAt)}` : '';
    const source = new EventSource(path + from);
    this.source = source;
    source.addEventListener('change', (event) => {
      const { topic, ids } = JSON.parse((event as MessageEvent<string>).data) as ChangeNotice;
      this.notices.next({ topic, ids, isMine: true });
    });
    source.addEventListener('others', (event) => {
      const topics = JSON.parse((event as MessageEvent<string>).data) as OthersNotice;
      for (const [topic, ids] of Object.entries(topics) as [ChangeTopic, string[] | null][])
        this.notices.next({ topic, ids, isMine: false });
    });
    source.addEventListener('resync', () => this.notices.next('resync'));
    source.addEventListener('open', () => {
      // What happened while the line was down may have been missed by a server that started anew.
      if (!this.connected()) this.notices.next('resync');
      this.connected.set(true);
    });
    source.addEventListener('error', () => {
      this.connected.set(false);
      // Refused, not broken: the browser does not try again. Asking for the session says whether it has ended.
      if (source.readyState === EventSource.CLOSED)
        this.api.call('session').subscribe({ error: () => undefined });
    });
  }

  close(): void {
    this.source?.close();
    this.source = null;
  }

  /** Opens it anew for whoever has signed in again; everything on screen is read again. */
  renew(): void {
    this.close();
    this.open();
    this.notices.next('resync');
  }

  /** Emits what changed of these topics, whosever it is, once things have settled; others' are told every few seconds. */
  of(...topics: ChangeTopic[]): Observable<ReadonlySet<ChangeTopic>> {
    return this.settled(topics, () => true);
  }

  /** The same, of what is one's own: it was done by oneself, or concerns one as owner or in the team. */
  mine(...topics: ChangeTopic[]): Observable<ReadonlySet<ChangeTopic>> {
    return this.settled(topics, ({ isMine }) => isMine);
  }

  /** The same, of these records and of what is about them; they are asked for once whoever calls it was drawn. Call it where injection works. */
  about(
    records: () => readonly (string | null | undefined)[],
    ...topics: ChangeTopic[]
  ): Observable<ReadonlySet<ChangeTopic>> {
    const drawn = whenDrawn();
    const heard = this.notices.pipe(
      concatMap((each) => new Observable<typeof each>((to) => drawn(() => (to.next(each), to.complete())))),
    );
    return this.settled(
      topics,
      ({ ids }) => {
        if (ids === null) return true;
        const shown = new Set(records());
        return ids.some((id) => shown.has(id));
      },
      heard,
    );
  }

  /**
   * For figures over everybody's records: what is one's own at once, what others changed at most every half minute.
   */
  counted(...topics: ChangeTopic[]): Observable<unknown> {
    return merge(this.mine(...topics), this.elsewhere(...topics));
  }

  /** What others changed, at most every half minute. */
  elsewhere(...topics: ChangeTopic[]): Observable<unknown> {
    return this.settled(topics, ({ isMine }) => !isMine).pipe(auditTime(elsewhereEvery));
  }

  private settled(
    topics: readonly ChangeTopic[],
    isMeant: (heard: Heard) => boolean,
    notices: Observable<Heard | 'resync'> = this.notices,
  ): Observable<ReadonlySet<ChangeTopic>> {
    return defer(() => {
      let changed = new Set<ChangeTopic>();
      return notices.pipe(
        filter((heard) => heard === 'resync' || (topics.includes(heard.topic) && isMeant(heard))),
        tap((heard) => {
          for (const topic of heard === 'resync' ? topics : [heard.topic]) changed.add(topic);
        }),
        debounceTime(settleMillis),
        map(() => {
          const now = changed;
          changed = new Set();
          return now;
        }),
      );
    });
  }
}
