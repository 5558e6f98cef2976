/** Imports point one way: contract <- core <- server, and contract, core <- web; demo stands on the server. */
const parts = {
  contract: [],
  core: ['contract'],
  server: ['contract', 'core'],
  web: ['contract', 'core'],
  demo: ['contract', 'core', 'server'],
  standins: [],
};

const forbidden = Object.entries(parts).map(([part, allowed]) => ({
  name: `${part}-knows-only-${allowed.join('-and-') || 'itself'}`,
  severity: 'error',
  from: { path: `^${part}/`, pathNot: '\\.test\\.ts$' },
  to: {
    path: `^(${Object.keys(parts)
      .filter((other) => other !== part && !allowed.includes(other))
      .join('|')})/`,
  },
}));

module.exports = {
  forbidden: [
    ...forbidden,
    {
      name: 'no-cycles-between-parts',
      severity: 'error',
      from: { path: '^(contract|core)/' },
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
    {
      name: 'core-has-no-io',
      severity: 'error',
      from: { path: '^core/src', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'pages-do-not-import-pages',
      severity: 'error',
      from: { path: '^web/src/shell' },
      to: { path: '-page\\.ts$', dependencyTypesNot: ['dynamic-import'] },
    },
    {
      name: 'tests-are-not-imported',
      severity: 'error',
      from: { pathNot: '\\.test\\.ts$' },
      to: { path: '\\.test\\.ts$' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(dist|\\.angular)/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
  },
};
