import { Injectable } from '@angular/core';
import { Subject } from 'rxjs';

/** Says that the server knows this browser's session no more: ended from elsewhere, too old, or its person has left. */
@Injectable({ providedIn: 'root' })
export class SessionEnd {
  private readonly ended = new Subject<void>();
  readonly ends = this.ended.asObservable();

  tell(): void {
    this.ended.next();
  }
}
