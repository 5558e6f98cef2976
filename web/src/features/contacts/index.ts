export { FilterBuilder, askedOnly } from './filter-builder';
export { columnsOf } from './grid-columns';
export { PeopleTabs } from './people-tabs';
