import type { MatDialog } from '@angular/material/dialog';
import type { Wording } from '@kettle/contract';
import { from, switchMap, type Observable } from 'rxjs';

/** Shows a change that waits beside what is in use; answers with whether it was decided. */
export function openReview(dialog: MatDialog, wording: Wording): Observable<boolean | undefined> {
  return from(import('./review-dialog')).pipe(
    switchMap(({ ReviewDialog }) =>
      dialog.open(ReviewDialog, { data: wording, width: '760px', maxWidth: '96vw' }).afterClosed(),
    ),
  );
}
