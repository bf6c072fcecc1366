/** Imports go one way: web → core, server → core, demo → core, core → nothing of ours and no Node API. */
export default {
  forbidden: [
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'core-stands-alone',
      severity: 'error',
      from: { path: '^core/' },
      to: { path: '^(server|web|demo|standins|benchmarks|scripts)/' },
    },
    {
      name: 'core-has-no-io',
      severity: 'error',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'web-knows-only-core',
      severity: 'error',
      from: { path: '^web/' },
      to: { path: '^(server|demo|standins|benchmarks|scripts)/' },
    },
    {
      name: 'server-knows-only-core',
      severity: 'error',
      from: { path: '^server/', pathNot: '\\.test\\.ts$|^server/testing/' },
      to: { path: '^(web|demo|standins|benchmarks|scripts)/' },
    },
    {
      name: 'stand-ins-stand-alone',
      comment: 'they are outside programs: nothing but the formats in which one speaks to them',
      severity: 'error',
      from: { path: '^standins/' },
      to: { path: '^(core/(?!exchange/)|web|server|demo|benchmarks|scripts)' },
    },
    {
      name: 'demo-knows-only-core',
      severity: 'error',
      from: { path: '^demo/' },
      to: { path: '^(web|server|standins|benchmarks|scripts)/' },
    },
    {
      name: 'http-is-thin',
      comment: 'routes ask capabilities; nothing else knows about HTTP',
      severity: 'error',
      from: { path: '^server/(library|lists|changes|clean|catalogue|intake|jobs|media|db)/', pathNot: '\\.test\\.ts$' },
      to: { path: '^server/http/' },
    },
    {
      name: 'no-tests-in-code',
      severity: 'error',
      from: { pathNot: '\\.test\\.tsx?$|^(server|core)/testing/|^(benchmarks|e2e)/' },
      to: { path: '\\.test\\.tsx?$|^(server|core)/testing/' },
    },
    {
      name: 'set-up-needs-no-package',
      comment: 'what installs the packages runs before they are there; later steps import them where they need them',
      severity: 'error',
      from: { path: '^scripts/', pathNot: '^scripts/(pictures|kernels|lib/kernels)\\.mjs$' },
      to: { path: 'node_modules', dynamic: false },
    },
    { name: 'resolvable', severity: 'error', from: {}, to: { couldNotResolve: true, pathNot: '\\?url$' } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '^(dist|data)/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'types', 'node', 'default'],
      extensions: ['.ts', '.tsx', '.mjs', '.js', '.json', '.css'],
    },
  },
};
