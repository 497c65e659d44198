export * from './holding';
export * from './support';
