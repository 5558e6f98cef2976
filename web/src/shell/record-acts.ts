import { inject, Injectable, Injector } from '@angular/core';
import { Router } from '@angular/router';
import type { ContactId, DealId } from '@kettle/contract';
import { firstValueFrom } from 'rxjs';
import { Api } from '../api/api';
import { openWrite } from '../features/mail/index';
import { CurrentUser } from '../services/current-user';
import { LateDialog } from '../kit/late-dialog';
import { Notices } from '../services/notices';
import { SelectedRecord } from '../services/selected-record';

/** Whom and what an act is about. */
interface Subject {
  readonly contactId: ContactId | null;
  readonly dealId: DealId | null;
  readonly name: string;
}

/** What a key does to whatever is open: a person, a deal and its person, a lead and its person. */
@Injectable()
export class RecordActs {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly dialogs = inject(LateDialog);
  private readonly notices = inject(Notices);
  private readonly selected = inject(SelectedRecord);
  private readonly injector = inject(Injector);
  private readonly user = inject(CurrentUser);

  logCall(): Promise<void> {
    return this.withPerson(({ contactId, dealId }) => {
      const queryParams = { contact: contactId, by: 'call', ...(dealId && { deal: dealId }) };
      void this.router.navigate(['/walk'], { queryParams });
    });
  }

  writeMail(): Promise<void> {
    return this.withPerson(async ({ contactId, dealId }) => {
      openWrite(await this.dialogs.get(), {
        channel: 'email',
        contactId,
        ...(dealId && { dealId }),
      }).subscribe();
    });
  }

  planTask(): Promise<void> {
    return this.withSubject(async (data) => {
      const { TaskDialog } = await import('../features/dossier/task-dialog');
      await this.dialogs.open(TaskDialog, { data, width: '460px' });
    });
  }

  /** The soonest planned step gets another day. */
  defer(): Promise<void> {
    return this.withSubject(async ({ contactId, dealId, name }) => {
      const query = dealId === null ? { contactId: contactId! } : { dealId };
      const { tasks } = await firstValueFrom(this.api.call('listTasks', { query }));
      const task = tasks.find(({ ownerId }) => this.user.mayChange(ownerId));
      if (!task)
        return this.notices.say(
          $localize`Nothing is planned with ${name} that you can move. T plans a task.`,
        );
      // Read when it is needed: what plans a step brings the calendar with it.
      const { TaskActs } = await import('../features/tasks/index');
      await this.injector.get(TaskActs).defer(task, () => undefined);
    });
  }

  private withPerson(
    act: (subject: Subject & { contactId: ContactId }) => void | Promise<void>,
  ): Promise<void> {
    return this.withSubject((subject) => {
      const { contactId, name } = subject;
      if (contactId !== null) return act({ ...subject, contactId });
      this.notices.say($localize`Nobody is named in ${name}:name:: give it a person first.`);
    });
  }

  private async withSubject(act: (subject: Subject) => void | Promise<void>): Promise<void> {
    try {
      const subject = await this.subject();
      if (subject === null)
        this.notices.say($localize`Open a person, a deal or a lead first: this key acts on what is open.`);
      else await act(subject);
    } catch (error) {
      this.notices.problem(error);
    }
  }

  private async subject(): Promise<Subject | null> {
    const current = this.selected.current();
    const params = { id: current?.id ?? '' };
    switch (current?.kind) {
      case 'contact': {
        const { id, name } = await firstValueFrom(this.api.call('getContact', { params }));
        return { contactId: id, dealId: null, name };
      }
      case 'deal': {
        const { id, contactId, name } = await firstValueFrom(this.api.call('getDeal', { params }));
        return { contactId, dealId: id, name };
      }
      case 'lead': {
        const { contactId, contactName } = await firstValueFrom(this.api.call('getLead', { params }));
        return { contactId, dealId: null, name: contactName };
      }
      default:
        return null;
    }
  }
}
