export * from './coverage';
export * from './derive';
export * from './document';
export * from './validate';
