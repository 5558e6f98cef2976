import { inject } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { ChangeTopic } from '@kettle/contract';
import { debounceTime, type Observable } from 'rxjs';
import { reading, type Reading } from '../../api/reading';
import { ChangeStream } from '../../services/change-stream';

/** A Home is looked at now and then: many changes at once are one reading. */
const settleMillis = 2_000;

/** What a card shows, read again after changes of these topics. Made where injection works. */
export function cardReading<Input, Value>(
  ask: (input: Input) => Observable<Value>,
  ...topics: readonly ChangeTopic[]
): Reading<Input, Value> {
  const read = reading(ask);
  inject(ChangeStream)
    .of(...topics)
    .pipe(debounceTime(settleMillis), takeUntilDestroyed())
    .subscribe(() => read.again());
  return read;
}
