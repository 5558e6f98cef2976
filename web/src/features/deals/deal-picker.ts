import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import type { DealRow } from '@kettle/contract';
import { map, type Observable } from 'rxjs';
import { Api } from '../../api/api';
import { fieldParts } from '../../kit/field';
import { kitField } from '../../kit/kit-field';
import { mostProposed, pickerTemplate, RecordPicker } from '../fields/index';

/** Deals of one company that are looked through for a name. */
const mostOfCompany = 200;

/** Finds an open deal of a company; before anything is typed, its deals by their next step. */
@Component({
  selector: 'kettle-deal-picker',
  imports: [fieldParts, MatAutocompleteModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  providers: [kitField(() => DealPicker)],
  template: pickerTemplate,
  styles: `
    :host {
      display: block;
    }
  `,
})
export class DealPicker extends RecordPicker<DealRow> {
  private readonly api = inject(Api);
  /** Whose deals; without one there are none. */
  readonly company = input<{ readonly id: string; readonly name: string } | null>(null);
  /** The deal that is being written, which is part of no deal that is part of it. */
  readonly except = input<string | null>(null);
  /** The one that was picked before this was opened. */
  readonly before = input<{ readonly id: string; readonly name: string } | null>(null);

  protected find(text: string): Observable<readonly DealRow[]> {
    const company = this.company();
    const query = { owner: 'all' as const, q: company?.name ?? '', limit: mostOfCompany };
    const sought = text.toLowerCase();
    return this.api
      .call('pageDeals', { query })
      .pipe(
        map(({ rows }) =>
          rows
            .filter(
              (row) =>
                row.companyId === company?.id &&
                row.id !== this.except() &&
                row.name.toLowerCase().includes(sought),
            )
            .slice(0, mostProposed),
        ),
      );
  }

  protected under(row: DealRow): string | null {
    return row.contactName;
  }

  protected known(id: string): string {
    const before = this.before();
    return before?.id === id ? before.name : '';
  }
}
