const swc = [
  '@swc/jest',
  {
    jsc: { parser: { syntax: 'typescript', decorators: true }, target: 'es2022' },
    module: { type: 'commonjs' },
  },
];
// Our own sources and packages that ship only as ES modules are transformed; the rest is taken as it is.
const onlyEsm =
  '@angular/localize|uuid|ical\\.js|date-fns|csv-spectrum|rate-limiter-flexible|chardet|@faker-js|lucide-static|chrono-node|tldts|tldts-core|rrule-temporal|@js-temporal|free-email-domains-list|email-reply-parser';
const esmOnly = `/node_modules/(?!(${onlyEsm})/)`;
// What a worker of the server's tests loads once: our sources, and all packages that are not of the test runner.
const sharable =
  '(/(contract|core|server)/src/(?!.+\\.test\\.ts).+\\.ts|/node_modules/(?!(fast-check|jest-|@jest|@swc)/?).+\\.[cm]?js)$';
const node = {
  testEnvironment: 'node',
  setupFiles: ['@angular/localize/init'],
  transform: { '^.+\\.m?[tj]s$': swc },
  transformIgnorePatterns: [esmOnly],
  moduleNameMapper: {
    '^@kettle/contract$': '<rootDir>/contract/src/index.ts',
    '^@kettle/contract/(.*)$': '<rootDir>/contract/src/$1.ts',
    '^@kettle/core/(.*)$': '<rootDir>/core/src/$1/index.ts',
    '^@kettle/server/(.*)$': '<rootDir>/server/src/$1.ts',
  },
};

export default {
  // A busy machine is slow, not wrong.
  testTimeout: 120_000,
  maxWorkers: 2,
  // What test files leave behind is looked through at every collection, and a new worker loads everything again: all tests took 318 s with
  // 700 MB, 272 with this, 314 with 4 GB.
  workerIdleMemoryLimit: '1500MB',
  testSequencer: '<rootDir>/scripts/long-first.mjs',
  projects: [
    { ...node, displayName: 'contract', rootDir: import.meta.dirname, roots: ['<rootDir>/contract/src'] },
    { ...node, displayName: 'core', rootDir: import.meta.dirname, roots: ['<rootDir>/core/src'] },
    { ...node, displayName: 'demo', rootDir: import.meta.dirname, roots: ['<rootDir>/demo/src'] },
    { ...node, displayName: 'standins', rootDir: import.meta.dirname, roots: ['<rootDir>/standins/src'] },
    {
      ...node,
      displayName: 'server',
      testEnvironment: '<rootDir>/server/testing/environment.mjs',
      transform: {
        [sharable]: ['<rootDir>/server/testing/shared-packages.mjs', { ...swc[1], esm: onlyEsm }],
        ...node.transform,
      },
      transformIgnorePatterns: [],
      rootDir: import.meta.dirname,
      moduleNameMapper: {
        ...node.moduleNameMapper,
        '^@node-rs/argon2$': '<rootDir>/server/testing/cheap-argon2.ts',
      },
      roots: ['<rootDir>/server/src'],
      globalSetup: '<rootDir>/server/testing/start-database.mjs',
      globalTeardown: '<rootDir>/server/testing/stop-database.mjs',
    },
    '<rootDir>/web/jest.config.mjs',
  ],
};
