export * from './addresses';
export * from './best-order';
export * from './course';
export * from './distance';
export * from './trip';
