export * from './bearing';
export * from './coordinates';
export * from './declination';
export * from './geodesic';
export * from './tilt';
export * from './utm';
