export * from './dialect';
export * from './machine';
