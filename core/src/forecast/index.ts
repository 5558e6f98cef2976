export * from './calibration';
export * from './distribution';
export * from './in-time';
export * from './moves';
