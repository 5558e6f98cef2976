export { duplicatesFeature } from './feature';
export { findLike, findLikelyInFirms } from './find-like';
export { mergeInside } from './merge';
