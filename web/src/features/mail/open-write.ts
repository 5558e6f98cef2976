import type { MatDialog } from '@angular/material/dialog';
import { from, type Observable, switchMap } from 'rxjs';
import type { WriteAsked } from './write-dialog';

/** Opens the writing of a mail or text; answers with its entry's id once it is on its way, else with nothing. */
export function openWrite(dialog: MatDialog, asked: WriteAsked): Observable<string | undefined> {
  return from(import('./write-dialog')).pipe(
    switchMap(({ WriteDialog }) =>
      dialog
        .open<unknown, WriteAsked, string>(WriteDialog, { data: asked, width: '680px', maxWidth: '96vw' })
        .afterClosed(),
    ),
  );
}
