import { inject, Injectable, signal } from '@angular/core';
import type { DealRow } from '@kettle/contract';
import { mostNotches } from '@kettle/contract/base/notches';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import { DealDialogs } from './deal-dialogs';
import { DealWords } from './deal-words';

/** Cuts notches into deals. Presses that come while one is on its way are added up: two quick presses are two notches. */
@Injectable({ providedIn: 'root' })
export class Notcher {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly words = inject(DealWords);
  private readonly dialogs = inject(DealDialogs);
  /** Notches as they will be, of deals whose change is on its way. */
  private readonly aims = signal<ReadonlyMap<string, number>>(new Map());

  /** As many as the deal has, or will have at once. */
  readonly of = ({ id, notches }: Pick<DealRow, 'id' | 'notches'>): number => this.aims().get(id) ?? notches;

  /** One further or one back. Behind the fourth lies the next stage, which is asked about. */
  cut(deal: DealRow, by: 1 | -1): void {
    const aim = this.of(deal) + by;
    if (aim > mostNotches) return this.goOn(deal);
    if (aim < 0) return;
    const isOnItsWay = this.aims().has(deal.id);
    this.aims.update((aims) => new Map(aims).set(deal.id, aim));
    if (!isOnItsWay) this.send(deal, []);
  }

  private goOn(deal: DealRow): void {
    const next = this.words.nextStage(deal.stageId);
    if (next === null) void this.dialogs.close(deal, 'won');
    else void this.dialogs.move({ deal, stageId: next.id });
  }

  private send({ id, name, version }: DealRow, sent: readonly string[]): void {
    const notches = this.aims().get(id)!;
    const changeId = v7();
    const letGo = () => this.aims.update((aims) => new Map([...aims].filter(([each]) => each !== id)));
    this.api.call('notchDeal', { params: { id }, body: { version, notches } }, changeId).subscribe({
      next: (deal) => {
        const all = [...sent, changeId];
        if (this.aims().get(id) !== notches) return this.send(deal, all);
        letGo();
        this.undo.offer(
          notches === 1
            ? $localize`${name}:name: has one notch.`
            : $localize`${name}:name: has ${notches}:notches: notches.`,
          all,
        );
      },
      error: (error: unknown) => {
        letGo();
        this.notices.problem(error);
      },
    });
  }
}
