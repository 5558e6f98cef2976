import { inject, Injectable } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { Router } from '@angular/router';
import type { DealId, Task } from '@kettle/contract';
import { firstValueFrom, type Observable } from 'rxjs';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { Notices } from '../../services/notices';
import { Undo } from '../../services/undo';
import type { DeferAsked } from './defer-dialog';
import type { DropAsked } from './drop-dialog';

/** What is done with a planned step, wherever it stands; each act says so in one line with its undo, and `after` reads again. */
@Injectable({ providedIn: 'root' })
export class TaskActs {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);
  private readonly undo = inject(Undo);
  private readonly router = inject(Router);

  /** Logs the task as done by its channel, with its outcome and next step; one without a person is done. */
  log(task: Task, after: () => void): void {
    const { contactId: contact, channel: by, id } = task;
    if (contact === null) void this.finish(task, after);
    else void this.router.navigate(['/walk'], { queryParams: { contact, by, task: id } });
  }

  /** Done without a word; a deal that is open with nothing more planned is asked what comes next. */
  async finish(task: Task, after: () => void): Promise<void> {
    const isDone = await this.act(
      $localize`Done`,
      (id) => this.api.call('finishTask', { params: { id: task.id } }, id),
      after,
    );
    if (isDone && task.dealId !== null) await this.askWhatNext(task.dealId, after);
  }

  private async askWhatNext(id: DealId, after: () => void): Promise<void> {
    const deal = await firstValueFrom(this.api.call('getDeal', { params: { id } })).catch(() => null);
    if (deal?.status !== 'open' || deal.tether.nextStepOn !== null) return;
    const { TaskDialog } = await import('../dossier/task-dialog');
    const { contactId, contactName } = deal;
    const because = $localize`${deal.name} is open, and nothing more is planned for it.`;
    const data = { contactId, dealId: id, name: contactName ?? undefined, because };
    await firstValueFrom(this.dialog.open(TaskDialog, { data, width: '460px' }).afterClosed());
    after();
  }

  async reopen(task: Task, after: () => void): Promise<void> {
    await this.act(
      $localize`Reopened`,
      (id) => this.api.call('reopenTask', { params: { id: task.id } }, id),
      after,
    );
  }

  async change(task: Task, after: () => void): Promise<void> {
    const { TaskDialog } = await import('../dossier/task-dialog');
    const { contactId, dealId, contactName } = task;
    const data = { contactId, dealId, name: contactName ?? undefined, task };
    await firstValueFrom(this.dialog.open(TaskDialog, { data, width: '460px' }).afterClosed());
    after();
  }

  async defer(task: Task, after: () => void): Promise<void> {
    const dueOn = await this.askDay({ name: task.purpose, roomOn: null });
    if (!dueOn) return;
    const call = { params: { id: task.id }, body: { version: task.version, dueOn } };
    await this.act($localize`Moved`, (id) => this.api.call('deferTask', call, id), after);
  }

  async drop(task: Task, after: () => void): Promise<void> {
    const reason = await this.askReason({ name: task.purpose, repeats: task.repeats });
    if (!reason) return;
    const call = { params: { id: task.id }, body: { reason } };
    await this.act($localize`Dropped`, (id) => this.api.call('dropTask', call, id), after);
  }

  /** Which day it is deferred to; nothing when that is left. */
  async askDay(data: DeferAsked): Promise<string | undefined> {
    const { DeferDialog } = await import('./defer-dialog');
    return firstValueFrom(
      this.dialog.open<unknown, unknown, string>(DeferDialog, { data, width: '420px' }).afterClosed(),
    );
  }

  /** Why it is dropped; nothing when that is left. */
  async askReason(data: DropAsked): Promise<string | undefined> {
    const { DropDialog } = await import('./drop-dialog');
    return firstValueFrom(
      this.dialog.open<unknown, unknown, string>(DropDialog, { data, width: '360px' }).afterClosed(),
    );
  }

  private async act(
    words: string,
    call: (changeId: string) => Observable<Task>,
    after: () => void,
  ): Promise<boolean> {
    const changeId = v7();
    const task = await firstValueFrom(call(changeId)).catch((error: unknown) => {
      this.notices.problem(error);
      return null;
    });
    if (task !== null) this.undo.offer(`${words}: ${task.purpose}.`, changeId, after);
    after();
    return task !== null;
  }
}
