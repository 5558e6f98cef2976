export * from './balance';
export * from './ubl';
