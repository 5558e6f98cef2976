import { GivePicked } from './give-picked';
import { GridSearch, GridTools } from './grid-tools';
import { ListFailed } from './list-failed';
import { WalkPicked } from './walk-picked';
import { CellTemplate, RecordGrid, RowActs } from './record-grid';

export { CellEdits } from './cell-edits';
export { columnsOf, type Option } from './columns';
export { FilterBuilder } from './filter-builder';
export { GridPicks } from './grid-picks';
export { bodyOfCell, type GridQuery, type GridRow, GridSpec, type Owner } from './grid-spec';
export { GridStore } from './grid-store';
export { GridView } from './grid-view';
export { provideGrid } from './provide-grid';

/** For the imports of a page with a list. */
export const gridParts = [
  RecordGrid,
  CellTemplate,
  RowActs,
  GridTools,
  GridSearch,
  GivePicked,
  WalkPicked,
  ListFailed,
] as const;
