export { edgeFromDxf } from './edge';
export * from './read';
export * from './write';
