export * from './levelAgent';
export * from './poorPath';
