export { fieldsFeature } from './feature';
export { readCustomFields } from './custom-fields';
export {
  customAt,
  customJson,
  customOfJson,
  customWith,
  readCustomOf,
  readCustomValues,
  sayCustom,
  writeCustomValues,
} from './custom-values';
