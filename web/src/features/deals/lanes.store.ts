import { inject, Injectable, signal } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import type { CallOf, DealRow } from '@kettle/contract';
import { sayDate } from '@kettle/core/time';
import { filter, firstValueFrom } from 'rxjs';
import { v7 } from 'uuid';
import { Api, problemOf } from '../../api/api';
import { reading } from '../../api/reading';
import { CurrentUser } from '../../services/current-user';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { DealDialogs } from './deal-dialogs';
import type { DealMove } from './deal-lanes';
import { DealWords } from './deal-words';
import type { MoveAsked } from './move-deal-dialog';

/** Open deals on their lanes, and their moves along them. */
@Injectable()
export class LanesStore {
  private readonly api = inject(Api);
  private readonly dialogs = inject(DealDialogs);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly user = inject(CurrentUser);
  private readonly words = inject(DealWords);
  /** Deals that were moved here and are not known to have been moved there yet. */
  readonly moving = signal<ReadonlyMap<string, DealMove>>(new Map());
  private readonly moving$ = toObservable(this.moving);
  readonly deals = reading((query: CallOf<'listDeals'>['query']) => this.api.call('listDeals', { query }));

  /** Once a deal has arrived where it was moved to. */
  async arrived(id: string): Promise<void> {
    await firstValueFrom(this.moving$.pipe(filter((moving) => !moving.has(id))));
  }

  /**
   * Shown where it was put at once; when that is refused it goes back, with the reason or the question it was refused for.
   * Moved again while the first move is on its way, it goes on from there when that is known.
   */
  moveDeal(move: DealMove): void {
    const isOnItsWay = this.moving().has(move.deal.id);
    this.moving.update((all) => new Map(all).set(move.deal.id, move));
    if (!isOnItsWay) this.sendMove(move, []);
  }

  /** `earlier` are the moves this one follows: they are undone together. */
  private sendMove(move: DealMove, earlier: readonly string[]): void {
    const changeIds = [...earlier, v7()];
    const { deal, stageId, expectedCloseOn } = move;
    const settle = () => {
      this.moving.update((all) => new Map([...all].filter(([id]) => id !== deal.id)));
      this.deals.again();
    };
    const body = { version: deal.version, stageId, expectedCloseOn };
    this.api.call('moveDeal', { params: { id: deal.id }, body }, changeIds.at(-1)).subscribe({
      next: (now) => {
        this.put(now);
        const wanted = this.moving().get(deal.id);
        if (wanted !== undefined && wanted !== move) {
          const next = { ...wanted, deal: now };
          this.moving.update((all) => new Map(all).set(deal.id, next));
          return this.sendMove(next, changeIds);
        }
        settle();
        this.tellMoved(now, changeIds);
      },
      error: (error: unknown) => {
        settle();
        const problem = problemOf(error);
        if (problem.code === 'facts-needed' || problem.code === 'brief-open')
          void this.ask({ deal, stageId, expectedCloseOn, problem });
        else this.notices.problem(error);
      },
    });
  }

  private put(now: DealRow): void {
    const all = this.deals.value();
    if (all !== null)
      this.deals.put({ ...all, rows: all.rows.map((row) => (row.id === now.id ? now : row)) });
  }

  /** The dialog for stage and close: by key, or for what a stage asks. */
  async ask(asked: MoveAsked): Promise<void> {
    const changeId = v7();
    (await this.dialogs.move({ ...asked, changeId })).afterClosed().subscribe((moved) => {
      if (moved === undefined) return;
      this.put(moved);
      this.tellMoved(moved, [changeId]);
    });
  }

  private tellMoved(now: DealRow, changeIds: readonly string[]): void {
    this.undo.offer(`${now.name}: ${this.wordsOf(now)}.`, changeIds, () => this.deals.again());
  }

  private wordsOf({ stageId, expectedCloseOn }: DealRow): string {
    const close = expectedCloseOn === null ? $localize`no date` : sayDate(expectedCloseOn, this.user.today());
    return `${this.words.stage(stageId)?.name ?? ''}, ${close}`;
  }
}
