export * from './rigid';
