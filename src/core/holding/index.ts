export * from './holding';
