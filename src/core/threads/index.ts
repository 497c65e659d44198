export * from './form';
export * from './infeed';
export * from './standards';
export * from './surface';
