export * from './agent';
export * from './ground';
export * from './radio';
export * from './random';
export * from './throughput';
export * from './world';
