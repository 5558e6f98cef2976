export * from './plain-date';
export * from './repeat';
export * from './say';
export * from './working-calendar';
export * from './zone';
