import type { Provider, Type } from '@angular/core';
import { CellEdits } from './cell-edits';
import { GridPicks } from './grid-picks';
import { type GridRow, GridSpec } from './grid-spec';
import { GridStore } from './grid-store';
import { GridView } from './grid-view';

/** What a page with a list provides: the list is of what `spec` says. */
export const provideGrid = <Row extends GridRow>(spec: Type<GridSpec<Row>>): Provider[] => [
  spec,
  { provide: GridSpec, useExisting: spec },
  GridStore,
  GridView,
  GridPicks,
  CellEdits,
];
