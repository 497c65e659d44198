export * from './contour';
export * from './dxf';
export * from './profile';
