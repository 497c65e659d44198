export * from './body';
export * from './removal';
