import type { RecordKind } from '@kettle/contract';
import { agreements } from './agreements';
import { companies } from './companies';
import { deals } from './deals';
import { leads } from './leads';
import { notes } from './notes';
import { products } from './products';
import { fileKindOf, type RecordDef } from './record-kind';
import { tasks } from './tasks';

export { judgeRecords } from './record-kind';

/** One line for each kind of record that a file can hold. */
export const recordDefs: Readonly<Record<RecordKind, RecordDef>> = {
  ...{ companies, products, leads, deals, agreements, tasks, notes },
};

export const recordKinds = Object.fromEntries(
  Object.entries(recordDefs).map(([kind, def]) => [kind, fileKindOf(def)]),
) as Readonly<Record<RecordKind, ReturnType<typeof fileKindOf>>>;
