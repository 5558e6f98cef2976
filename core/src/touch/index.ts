export * from './answer-rates';
export * from './check-in';
export * from './facts';
export * from './outcomes';
export * from './propose';
export * from './say-answers';
