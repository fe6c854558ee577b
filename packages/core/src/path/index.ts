export * from './analysis';
export * from './clearance';
export * from './heights';
export * from './landmark';
export * from './obstacle';
export * from './obstacles';
export * from './surface';
export * from './words';
