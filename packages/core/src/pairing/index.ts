export * from './sheet';
export * from './pair';
export * from './check';
export * from './proposal';
export * from './site';
export * from './passphrase';
export * from './hiddenPassphrase';
export { causes } from './causes';
