export * from './machine';
