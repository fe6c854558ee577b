export * from './crs';
export * from './grid';
export * from './hillshade';
export * from './mercator';
export * from './profile';
export * from './wkt';
export * from './visibleArea';
