import type { MatDialog } from '@angular/material/dialog';
import type { ContactId } from '@kettle/contract';
import { from, switchMap, type Observable } from 'rxjs';

/** Shows what is held of a person; answers with whether it was erased. */
export function openPersonalData(dialog: MatDialog, contactId: ContactId): Observable<boolean | undefined> {
  return from(import('./personal-data-dialog')).pipe(
    switchMap(({ PersonalDataDialog }) =>
      dialog.open(PersonalDataDialog, { data: contactId, width: '640px', maxWidth: '96vw' }).afterClosed(),
    ),
  );
}
