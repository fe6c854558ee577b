// The arrows between the packages: web -> contract -> core; server -> contract, core, standin; standin -> core.
// What is not listed here as allowed is forbidden, whether imported by package name or by relative path.
const room = (name) => `^packages/${name}/`;
const allowed = {
  core: [],
  contract: ['core'],
  standin: ['core'],
  server: ['contract', 'core', 'standin'],
  web: ['contract', 'core'],
};
const rooms = Object.keys(allowed);

const arrows = rooms.map((from) => ({
  name: `${from}-only-points-at-${allowed[from].join('-') || 'nothing'}`,
  severity: 'error',
  from: { path: room(from) },
  to: { path: rooms.filter((to) => to !== from && !allowed[from].includes(to)).map(room) },
}));

export default {
  forbidden: [
    ...arrows,
    {
      name: 'core-and-contract-know-no-platform',
      comment: 'core and contract run in the browser, in a worker and on the server alike',
      severity: 'error',
      from: { path: '^packages/(core|contract)/src', pathNot: '[.]test[.]ts$' },
      to: { dependencyTypes: ['core'] },
    },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'no-undeclared-packages',
      severity: 'error',
      from: { path: '^packages/', pathNot: '[.](test|bench)[.]tsx?$|/vite[.]config[.]ts$|/test/|/bench/' },
      to: { dependencyTypes: ['npm-no-pkg', 'npm-unknown', 'unknown'] },
    },
    { name: 'resolvable', severity: 'error', from: {}, to: { couldNotResolve: true } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'require', 'default', 'types'] },
  },
};
