import type { ImportKind } from '@kettle/contract/imports/kinds';
import { type Signal, signal } from '@angular/core';
import type {
  CellValue,
  ChangeTopic,
  CustomField,
  GridCount,
  GridFieldOf,
  GridValue,
  ListPlace,
} from '@kettle/contract';
import type { Observable } from 'rxjs';
import type { RecordRef } from '../../services/selected-record';
import type { Option } from './columns';

/** What every row of a list has. */
export interface GridRow {
  readonly id: string;
  readonly version: number;
  readonly custom?: Readonly<Record<string, string | number | boolean | null>>;
}

/** A view as the address carries it: which rows, in what order and in which columns. */
export type GridAddress = Readonly<Record<string, string | undefined>>;

/** What a page or a count is asked for: the address without its columns. */
export type GridQuery = Readonly<Record<string, string | undefined>>;

export interface Owner {
  /** Null for what is nobody's. */
  readonly id: string | null;
  readonly name: string | null;
}

/** What a change of one cell sends: of a custom field, its value by the field's id. */
export const bodyOfCell = (cell: string, value: CellValue): Record<string, unknown> =>
  cell.startsWith('custom:') ? { custom: { [cell.slice('custom:'.length)]: value } } : { [cell]: value };

/** What a list is of: everything in which People, Companies, Deals, Leads, Tasks and Agreements differ. */
export abstract class GridSpec<Row extends GridRow = GridRow> {
  abstract readonly place: ListPlace;
  /** As one and several of them are called: `person`, `people`. */
  abstract readonly words: { readonly one: string; readonly many: string; readonly counted: string };
  abstract readonly fields: Readonly<Record<string, GridFieldOf<Row>>>;
  /** Fields an admin defined. */
  readonly customFields: Signal<readonly CustomField[]> = signal([]);
  /** Names of what is one of a few, by field, where the field does not say them itself. */
  readonly options: Signal<Readonly<Record<string, readonly Option[]>>> = signal({});
  abstract readonly usualColumns: string;
  abstract readonly usualSort: string;
  /** Grouped by it unless the view says otherwise. */
  readonly usualGroup: string | null = null;
  /** What the address says when it says nothing, so that it is no filter: `{ owner: 'all' }`. */
  readonly usual: Readonly<Record<string, string>> = {};
  /** The key of the address that says which of several lists it is, so that it is no filter. */
  readonly tabKey: string | null = null;
  /** Keys of the address that show everything there is. */
  abstract readonly everything: Readonly<Record<string, string | null>>;
  /** The column whose cell opens the row. */
  readonly nameKey: string = 'name';
  /** On a phone: beside the name, then in the second line. */
  abstract readonly phoneKeys: readonly [string, ...string[]];
  /** Changes after which it is read again. */
  abstract readonly topics: readonly ChangeTopic[];
  /** Where a file of a view comes from. */
  abstract readonly exportPath: string;
  /** Whether its rows are people, whom an address book takes. */
  readonly hasCards: boolean = false;
  /** What a file that is brought in from here holds; null where the page says so itself, or nothing can be. */
  readonly importKind: ImportKind | null = null;

  abstract nameOf(row: Row): string;
  /** What opens beside the list. */
  abstract recordOf(row: Row): RecordRef | null;
  abstract ownerOf(row: Row): Owner;
  mayChange(_row: Row): boolean | null {
    return null;
  }
  /** The page of what a cell names, `['/companies', id]`. */
  linkOf(_row: Row, _key: string): readonly string[] | null {
    return null;
  }
  abstract rows(
    query: GridQuery,
    page: { after: number; follows?: string; limit: number; counted?: 'no' },
  ): Observable<readonly Row[]>;
  abstract count(query: GridQuery): Observable<GridCount>;
  /** What a change of a cell writes; left out, no cell can be changed. */
  change?(row: Row, cell: string, value: CellValue, changeId: string): Observable<Partial<Row>>;
  /** The value behind a cell: an owner's is their id, not their name. */
  valueOf(row: Row, cell: string): GridValue {
    if (cell.startsWith('custom:')) return row.custom?.[cell.slice('custom:'.length)] ?? null;
    return (row as unknown as Readonly<Record<string, GridValue>>)[cell] ?? null;
  }
}
