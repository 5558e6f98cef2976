export { fieldsFeature } from './feature';
export { readCustomFields, writeCustomValues } from './custom-fields';
