import presets from 'jest-preset-angular/presets/index.js';

const root = new URL('..', import.meta.url).pathname.replace(/\/$/, '');

export default {
  ...presets.createCjsPreset({ tsconfig: '<rootDir>/tsconfig.spec.json' }),
  displayName: 'web',
  rootDir: import.meta.dirname,
  roots: ['<rootDir>/src'],
  setupFilesAfterEnv: ['<rootDir>/testing/set-up.ts'],
  transformIgnorePatterns: ['node_modules/(?!(.*\\.mjs$|uuid/|tinykeys/))'],
  moduleNameMapper: {
    '^dompurify$': `${root}/node_modules/dompurify/dist/purify.es.mjs`,
    '\\.svg$': '<rootDir>/testing/svg.ts',
    '^@kettle/contract$': `${root}/contract/src/index.ts`,
    '^@kettle/contract/(.*)$': `${root}/contract/src/$1.ts`,
    '^@kettle/core/(.*)$': `${root}/core/src/$1/index.ts`,
  },
};
