export * from './jobLaw';
export * from './licence';
export * from './channel';
export * from './ruleSet';
