import { inject, Injectable } from '@angular/core';
import type { CallOf, Wording } from '@kettle/contract';
import { tap, type Observable } from 'rxjs';
import { v7 } from 'uuid';
import { Api } from '../../api/api';
import { Undo } from '../../services/undo';

type Asked = NonNullable<CallOf<'draftWording'>['body']>['asked'];

/** Sends a change of what goes out by itself to whoever may release it. */
@Injectable({ providedIn: 'root' })
export class AskRelease {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);

  send(asked: Asked): Observable<Wording> {
    const changeId = v7();
    return this.api
      .call('draftWording', { body: { id: v7(), asked } }, changeId)
      .pipe(tap(({ name }) => this.undo.offer($localize`${name} waits for release by a manager.`, changeId)));
  }
}
