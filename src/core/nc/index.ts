export * from './compare';
export * from './post/post';
export * from './reader/reader';
export * from './reader/words';
export * from './release';
