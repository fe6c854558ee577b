export * from './mainLobe';
