export * from './coordinates';
export * from './geodesic';
export * from './tilt';
