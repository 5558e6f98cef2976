export * from './close-reasons';
export * from './schemas';
