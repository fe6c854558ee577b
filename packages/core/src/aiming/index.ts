export * from './advice';
export * from './aimGuide';
export * from './angleGuide';
export * from './diagnosis';
export * from './eye';
export * from './lobeFit';
export * from './reading';
export * from './timeGuide';
