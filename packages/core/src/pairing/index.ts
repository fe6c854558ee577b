export * from './sheet';
export * from './pair';
export * from './check';
export * from './proposal';
export * from './passphrase';
export { causes } from './causes';
