export * from './schemas';
