export * from './events';
export * from './timing';
