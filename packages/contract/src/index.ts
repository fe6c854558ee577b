import 'reflect-metadata';

export * from './answers';
export { bodyOf } from './bodies';
export * from './entities';
export * from './fieldWords';
export * from './jobDocument';
export * from './photoKinds';
export * from './plain';
export * from './problem';
export * from './requests';
export * from './routes';
export * from './sheet';
export { spokenWord } from './storedWords';
export * from './validate';
export * from './views';
