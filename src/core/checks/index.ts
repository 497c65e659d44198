export * from './motion';
export * from './wording';
