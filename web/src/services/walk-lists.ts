import { inject, Injectable } from '@angular/core';
import { Router } from '@angular/router';
import type { CallOf, WalkStop } from '@kettle/contract';
import { firstValueFrom } from 'rxjs';
import { v7 } from 'uuid';
import { Api } from '../api/api';
import { Drafts } from './drafts';
import { Notices } from './notices';
import { WalkTally } from './walk-tally';

/** A walk of one's own making. */
export interface WalkedList {
  readonly id: string;
  /** What it goes through, in words: `12 tasks`. */
  readonly title: string;
  readonly stops: readonly WalkStop[];
}

type Chosen = NonNullable<CallOf<'planWalk'>['body']>;
/** More at once are another walk. */
export const mostStops = 500;
const key = 'walk-list';

/** The walk through chosen records: kept on this machine, so that a reload goes on in it. */
@Injectable({ providedIn: 'root' })
export class WalkLists {
  private readonly api = inject(Api);
  private readonly drafts = inject(Drafts);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  private readonly tally = inject(WalkTally);

  /** The one of that id; null when another was begun since, or on another machine. */
  read(id: string): WalkedList | null {
    const kept = this.drafts.readForm<WalkedList>(key);
    return kept?.id === id ? kept : null;
  }

  /** Begins a walk through records; who cannot be walked is said. */
  async start(kind: Chosen['kind'], ids: readonly string[], title: string): Promise<void> {
    const body = { kind, ids: ids.slice(0, mostStops) } as unknown as Chosen;
    try {
      const { stops, left } = await firstValueFrom(this.api.call('planWalk', { body }));
      if (stops.length === 0) {
        this.notices.say($localize`There is nobody to walk to: all of it is done, closed or about nobody.`);
        return;
      }
      if (left > 0)
        this.notices.say($localize`${left}:count: are left out: done, closed, or about nobody else.`);
      this.startWith(stops, title);
    } catch (error) {
      this.notices.problem(error);
    }
  }

  startWith(stops: readonly WalkStop[], title: string): void {
    const id = v7();
    this.drafts.keepForm(key, { id, title, stops } satisfies WalkedList);
    this.tally.begin();
    void this.router.navigate(['/walk'], { queryParams: { list: id, at: 0 } });
  }
}
