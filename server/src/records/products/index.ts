export { productsFeature } from './feature';
export { addProduct, changeProduct, readProducts } from './products';
