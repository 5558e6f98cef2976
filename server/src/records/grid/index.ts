export { filterSetting } from './filter-setting';
export { filterSql, likeEnd, likeText, type Clauses, type FilterSetting, type GridSql } from './grid-sql';
export { readPageIds, type ListSql } from './list-grid';
export { listRoutes, type RecordList } from './record-list';
