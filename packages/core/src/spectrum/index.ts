export * from './channel';
export * from './ruleSet';
