import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import type { ContactRow } from '@kettle/contract';
import { map, type Observable } from 'rxjs';
import { Api } from '../../api/api';
import { fieldParts } from '../../kit/field';
import { kitField } from '../../kit/kit-field';
import { PeopleWords } from './people-words';
import { mostProposed, pickerTemplate, RecordPicker } from './record-picker';

/** Finds one contact; before anything is typed, whom one was last in touch with. */
@Component({
  selector: 'kettle-person-picker',
  imports: [fieldParts, MatAutocompleteModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  providers: [kitField(() => PersonPicker)],
  template: pickerTemplate,
  styles: `
    :host {
      display: block;
    }
  `,
})
export class PersonPicker extends RecordPicker<ContactRow> {
  private readonly api = inject(Api);
  private readonly words = inject(PeopleWords);

  protected find(q: string): Observable<readonly ContactRow[]> {
    const query =
      q === ''
        ? { limit: mostProposed, sort: '-last-touch', owner: 'mine' as const }
        : { limit: mostProposed, q };
    return this.api.call('listContacts', { query }).pipe(map(({ rows }) => rows));
  }

  protected under(row: ContactRow): string | null {
    return row.companyName;
  }

  protected known(id: string): string {
    return this.words.person(id);
  }
}
