const swc = [
  '@swc/jest',
  {
    jsc: {
      target: 'es2022',
      parser: { syntax: 'typescript', tsx: true },
      transform: { react: { runtime: 'automatic' } },
    },
    module: { type: 'es6' },
  },
];
const shared = {
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  transform: { '^.+\\.tsx?$': swc },
  transformIgnorePatterns: ['/node_modules/'],
  modulePathIgnorePatterns: ['<rootDir>/dist', '<rootDir>/data'],
};

/** Three projects: plain units, page parts in a DOM, and the server against a real PostgreSQL. */
export default {
  // By default two cores would have one; tests of the server wait for files and processes a good part of their time.
  maxWorkers: 3,
  // Modules of every file stay in the memory of a worker; one that has grown begins anew.
  workerIdleMemoryLimit: '1200MB',
  testTimeout: 60_000,
  projects: [
    {
      ...shared,
      displayName: 'unit',
      testEnvironment: 'node',
      testMatch: ['<rootDir>/{core,demo,server,benchmarks,standins}/**/*.test.ts'],
      testPathIgnorePatterns: ['/node_modules/', '\\.api\\.test\\.ts$'],
    },
    {
      ...shared,
      displayName: 'page',
      testEnvironment: 'jsdom',
      setupFiles: ['<rootDir>/web/testing/browser.ts'],
      testMatch: ['<rootDir>/web/**/*.test.{ts,tsx}'],
    },
    {
      ...shared,
      displayName: 'api',
      testEnvironment: 'node',
      testMatch: ['<rootDir>/{server,benchmarks}/**/*.api.test.ts'],
      testTimeout: 150_000,
    },
  ],
};
