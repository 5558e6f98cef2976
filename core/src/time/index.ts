export * from './plain-date';
export * from './repeat';
export * from './say';
export * from './typed';
export * from './working-calendar';
export * from './zone';
