export * from './intervals';
export * from './fisher';
export * from './survival';
export * from './shrink';
