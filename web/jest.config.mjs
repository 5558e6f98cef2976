import presets from 'jest-preset-angular/presets/index.js';

const root = new URL('..', import.meta.url).pathname.replace(/\/$/, '');

// The packages that the interface loads; a worker loads each once, and our own sources too (but for the chart, of which tests put another in its place).
const shared =
  '@angular|rxjs|tslib|zod|luxon|@tiptap|prosemirror-|orderedmap|rope-sequence|w3c-keyname|linkifyjs|dompurify|lucide-static|tinykeys|uuid|libphonenumber-js|chrono-node|csv-|tldts|ical';
const preset = presets.createCjsPreset({ tsconfig: '<rootDir>/tsconfig.spec.json' });
const [[ours, compiler]] = Object.entries(preset.transform);

export default {
  ...preset,
  testEnvironment: '<rootDir>/testing/environment.mjs',
  // The first that fits is taken.
  transform: {
    [`/(contract|core|web)/src/(?!kit/chart)(?!.+\\.test\\.ts).+\\.ts$|/node_modules/(${shared}).*\\.m?js$`]:
      ['<rootDir>/testing/shared-packages.mjs', compiler[1]],
    [ours]: compiler,
  },
  displayName: 'web',
  rootDir: import.meta.dirname,
  roots: ['<rootDir>/src', '<rootDir>/catalogue'],
  setupFilesAfterEnv: ['<rootDir>/testing/set-up.ts'],
  transformIgnorePatterns: [`/node_modules/(?!${shared})`],
  moduleNameMapper: {
    '^d3-(geo|array)$': `${root}/node_modules/d3-$1/dist/d3-$1.js`,
    '^dompurify$': `${root}/node_modules/dompurify/dist/purify.es.mjs`,
    '\\.svg$': '<rootDir>/testing/svg.ts',
    '^@kettle/contract$': `${root}/contract/src/index.ts`,
    '^@kettle/contract/(.*)$': `${root}/contract/src/$1.ts`,
    '^@kettle/core/(.*)$': `${root}/core/src/$1/index.ts`,
  },
};
