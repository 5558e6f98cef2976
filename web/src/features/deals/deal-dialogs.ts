import { inject, Injectable } from '@angular/core';
import { MatDialog, type MatDialogRef } from '@angular/material/dialog';
import type { CallOf, Contact, Deal, DealRow } from '@kettle/contract';
import { v7 } from 'uuid';
import { Api, problemOf } from '../../api/api';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import type { MoveAsked } from './move-deal-dialog';

export type Closing = 'won' | 'lost' | 'parked';

/** What was said of it already, for instance in a line. */
export interface ClosingSaid {
  readonly words?: string;
  readonly amountMinor?: number;
}

/** Everything that is asked about a deal in a dialog, from whichever page; each is loaded when it is first opened. */
@Injectable({ providedIn: 'root' })
export class DealDialogs {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);

  async make(contact: Contact | null = null): Promise<void> {
    const { DealDialog } = await import('./deal-dialog');
    this.dialog.open(DealDialog, { data: { contact }, width: '720px', maxWidth: '96vw' });
  }

  async change(deal: Deal): Promise<void> {
    const { DealDialog } = await import('./deal-dialog');
    this.dialog.open(DealDialog, { data: { deal }, width: '720px', maxWidth: '96vw' });
  }

  /** Stage and expected close, with what the stage asks for. */
  async move(asked: MoveAsked): Promise<MatDialogRef<unknown, DealRow>> {
    const { MoveDealDialog } = await import('./move-deal-dialog');
    return this.dialog.open<unknown, MoveAsked, DealRow>(MoveDealDialog, { data: asked, width: '560px' });
  }

  /** To a stage at once; what that stage asks for is asked in the dialog. */
  goOn(deal: DealRow, stage: { readonly id: string; readonly name: string }): void {
    const changeId = v7();
    const { version, expectedCloseOn } = deal;
    const body = { version, stageId: stage.id, expectedCloseOn } as CallOf<'moveDeal'>['body'];
    const tell = () => this.undo.offer(`${deal.name}: ${stage.name}.`, changeId);
    this.api.call('moveDeal', { params: { id: deal.id }, body }, changeId).subscribe({
      next: tell,
      error: (error: unknown) => {
        const problem = problemOf(error);
        if (problem.code !== 'facts-needed' && problem.code !== 'brief-open')
          return this.notices.problem(error);
        void this.move({ deal, stageId: stage.id, problem, changeId }).then((asked) =>
          asked.afterClosed().subscribe((moved) => {
            if (moved !== undefined) tell();
          }),
        );
      },
    });
  }

  /** Won, lost or parked, with a way back as long as nothing was changed since. */
  async close(deal: DealRow, as: Closing, said: ClosingSaid = {}): Promise<void> {
    const { CloseDealDialog } = await import('./close-deal-dialog');
    this.dialog
      .open<unknown, unknown, DealRow>(CloseDealDialog, { data: { deal, as, said }, width: '520px' })
      .afterClosed()
      .subscribe((closed) => {
        if (closed !== undefined)
          this.notices.say($localize`${closed.name}:name: is ${closed.status}:status:.`, () =>
            this.takeBack(closed),
          );
      });
  }

  async reopen(deal: Deal): Promise<void> {
    const { ReopenDealDialog } = await import('./reopen-deal-dialog');
    this.dialog.open(ReopenDealDialog, { data: deal, width: '460px' });
  }

  /** The deal's next step. */
  async plan(deal: DealRow): Promise<void> {
    const { TaskDialog } = await import('../dossier/task-dialog');
    const data = { contactId: deal.contactId, dealId: deal.id, name: deal.contactName };
    this.dialog.open(TaskDialog, { data, width: '460px' });
  }

  private takeBack({ id, name }: DealRow): void {
    this.api.call('undoClose', { params: { id } }).subscribe({
      next: () => this.notices.say($localize`${name} is open as before.`),
      error: (error: unknown) => this.notices.problem(error),
    });
  }
}
