export * from './number';
export * from './totals';
