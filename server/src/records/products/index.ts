export { productsFeature } from './feature';
