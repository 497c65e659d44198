export * from './removal';
