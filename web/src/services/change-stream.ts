import { inject, Injectable, signal } from '@angular/core';
import type { ChangeNotice, ChangeTopic } from '@kettle/contract';
import { debounceTime, filter, type Observable, Subject } from 'rxjs';
import { endpoints } from '@kettle/contract/endpoints';
import { Api } from '../api/api';
import { CurrentUser } from './current-user';

const settleMillis = 120;

/** What changes on the server while this browser is open. The browser itself reconnects and asks for what it missed. */
@Injectable({ providedIn: 'root' })
export class ChangeStream {
  private readonly user = inject(CurrentUser);
  private readonly api = inject(Api);
  private readonly notices = new Subject<ChangeNotice | 'resync'>();
  private source: EventSource | null = null;
  private readonly connected = signal(true);

  /** False while the stream is broken and being opened again. */
  readonly isLive = this.connected.asReadonly();

  open(): void {
    if (this.source !== null || typeof EventSource === 'undefined') return;
    const path = endpoints.changes.split(' ')[1]!;
    const after = this.user.session()?.lastChange;
    const source = new EventSource(after ? `${path}?after=${after}` : path);
    this.source = source;
    source.addEventListener('change', (event) =>
      this.notices.next(JSON.parse((event as MessageEvent<string>).data) as ChangeNotice),
    );
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

  /** Emits once things have settled after a change of one of these topics. */
  of(...topics: ChangeTopic[]): Observable<unknown> {
    return this.notices.pipe(
      filter((notice) => notice === 'resync' || topics.includes(notice.topic)),
      debounceTime(settleMillis),
    );
  }
}
