// Three projects, one run: core and server in Node, app in jsdom with a fake IndexedDB. All ESM through swc, packages
// too through the binding of the language's names (see the transform).
const swc = [
  '<rootDir>/../scripts/lib/jestTransform.mjs',
  {
    jsc: {
      parser: { syntax: 'typescript', tsx: true },
      target: 'es2022',
      transform: { react: { runtime: 'automatic' } },
    },
    module: { type: 'es6' },
  },
]
// In CI the files stand in groups (scripts/lib/groups.mjs), so that the core is loaded eleven times and not eighty.
const grouped = process.env.BRINVO_GROUPED === '1'
/** Where a workspace's tests are found. */
const found = (workspace, own) =>
  grouped
    ? {
        roots: ['<rootDir>', '<rootDir>/../.stamps/unit'],
        testMatch: [`<rootDir>/../.stamps/unit/${workspace}-*.test.ts`],
      }
    : { testMatch: [own] }
const common = {
  transform: { '^.+\\.[cm]?[jt]sx?$': swc },
  transformIgnorePatterns: [],
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  moduleNameMapper: {
    '^@brinvo/core$': '<rootDir>/../core/src/index.ts',
    '^@brinvo/core/(.*)$': '<rootDir>/../core/src/$1.ts',
  },
}
export default {
  projects: [
    {
      ...common,
      displayName: 'core',
      rootDir: 'core',
      testEnvironment: 'node',
      moduleNameMapper: { '^@brinvo/core$': '<rootDir>/src/index.ts', '^@brinvo/core/(.*)$': '<rootDir>/src/$1.ts' },
      ...found('core', '<rootDir>/{src,test}/**/*.test.ts'),
    },
    {
      ...common,
      displayName: 'app',
      rootDir: 'app',
      testEnvironment: '<rootDir>/test/environment.mjs',
      // Packages as Node has them: the browser's own entry points are driven end to end.
      testEnvironmentOptions: { customExportConditions: ['node'] },
      setupFiles: ['<rootDir>/test/setup.ts'],
      ...found('app', '<rootDir>/{src,test}/**/*.test.{ts,tsx}'),
    },
    {
      ...common,
      displayName: 'server',
      rootDir: 'server',
      testEnvironment: 'node',
      ...found('server', '<rootDir>/{src,test}/**/*.test.ts'),
    },
  ],
}
