export * from './flat';
export * from './links';
export * from './machine';
export * from './problems';
export * from './rates';
export * from './reach';
export * from './read';
export * from './tree';
