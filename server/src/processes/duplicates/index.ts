export { duplicatesFeature } from './feature';
export { findSimilarContacts, findSimilarInCompanies } from './find-similar';
export { mergeInside } from './merge';
