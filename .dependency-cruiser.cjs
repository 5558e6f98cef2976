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

/** Inside the server imports point down: a screen knows a process, a process never knows a screen. Types may point up. */
const layers = ['platform', 'records', 'activity', 'processes', 'screens'];
const valuesOnly = { dependencyTypesNot: ['type-only'] };
const layered = layers.slice(0, -1).map((layer, index) => ({
  name: `${layer}-does-not-know-${layers.slice(index + 1).join('-or-')}`,
  severity: 'error',
  from: { path: `^server/src/${layer}/`, pathNot: '\\.test\\.ts$' },
  to: { path: `^server/src/(${layers.slice(index + 1).join('|')})/`, ...valuesOnly },
}));

const notTests = { pathNot: '\\.test\\.ts$' };
/** A feature is known by its door, `index.ts`, to other features and to what stands around them. Tests may look behind it. */
function doors(name, folders, around, also = {}) {
  const behind = `^${folders.replace('(', '(?:')}/[^/]+/(?!index\\.ts$)`;
  return [
    {
      name: `${name}-features-know-each-other-by-their-doors`,
      severity: 'error',
      from: { path: `^(${folders.replace('(', '(?:')}/[^/]+)/`, ...notTests },
      to: { path: behind, pathNot: '^$1/', ...also },
    },
    {
      name: `${name}-features-are-known-by-their-doors`,
      severity: 'error',
      from: { path: around, ...notTests },
      to: { path: behind, ...also },
    },
  ];
}
const allDoors = [
  ...doors(
    'server',
    `server/src/(${layers.slice(1).join('|')})`,
    '^(server/src/platform|server/src/[^/]+\\.ts|server/testing|demo)',
  ),
  // A page is loaded when somebody goes there, from its own file.
  ...doors('web', 'web/src/features', '^web/src/(?!features/)', { dependencyTypesNot: ['dynamic-import'] }),
  ...doors('core', 'core/src', '^(contract|server|web|demo|standins)/'),
];

/** In the interface: kit and services know no feature, and no page knows the shell around it. */
const interfaceLayers = [
  {
    name: 'kit-and-services-know-no-feature',
    severity: 'error',
    from: { path: '^web/src/(api|kit|services)/', pathNot: '\\.test\\.ts$' },
    to: { path: '^web/src/(features|shell)/', ...valuesOnly },
  },
  {
    name: 'services-do-not-know-the-kit',
    severity: 'error',
    from: { path: '^web/src/(api|services)/', pathNot: '\\.test\\.ts$' },
    to: { path: '^web/src/kit/', ...valuesOnly },
  },
  {
    name: 'features-do-not-know-the-shell',
    severity: 'error',
    from: { path: '^web/src/features/', pathNot: '\\.test\\.ts$' },
    to: { path: '^web/src/shell/', ...valuesOnly },
  },
];

module.exports = {
  forbidden: [
    ...forbidden,
    ...layered,
    ...allDoors,
    ...interfaceLayers,
    {
      name: 'no-circle-of-files',
      severity: 'error',
      from: { path: '^(contract|core|server|web)/' },
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
