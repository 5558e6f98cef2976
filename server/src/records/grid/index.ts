export {
  filterSql,
  orderSql,
  sortExpression,
  type Clauses,
  type FilterSetting,
  type GridSql,
} from './grid-sql';
