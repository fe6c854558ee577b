export * from './activity';
export * from './sum';
