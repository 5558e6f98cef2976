export interface SheetColumn {
  readonly head: string;
  /** Characters. */
  readonly width: number;
  /** Of numbers, in the words of ECMA-376, 18.8.30. @example '#,##0.00' */
  readonly format?: string;
}

/** A typed cell: a text is never read as a formula. Days and instants as ISO 8601. */
export type SheetCell =
  | { readonly kind: 'text'; readonly value: string }
  | { readonly kind: 'number'; readonly value: number; readonly format?: string }
  | { readonly kind: 'day'; readonly value: string }
  | { readonly kind: 'instant'; readonly value: string }
  | null;

export interface Sheet {
  readonly name: string;
  readonly columns: readonly SheetColumn[];
  readonly rows: readonly (readonly SheetCell[])[];
}
