// The house's walls: core imports nothing of ours, features never import each other, nothing goes round in circles.
module.exports = {
  forbidden: [
    { name: 'core-is-alone', severity: 'error', from: { path: '^core/src' }, to: { path: '^(app|server|e2e)/' } },
    {
      name: 'core-has-no-interface',
      severity: 'error',
      from: { path: '^core/src' },
      to: { path: 'node_modules/(react|react-dom|styled-components|express|localforage|recharts)' },
    },
    {
      name: 'features-are-strangers',
      severity: 'error',
      from: { path: '^app/src/features/([^/]+)/' },
      to: { path: '^app/src/features/', pathNot: '^app/src/features/$1/' },
    },
    {
      name: 'parts-know-no-feature',
      severity: 'error',
      from: { path: '^app/src/(parts|design|data|workers)/' },
      to: { path: '^app/src/features/' },
    },
    {
      name: 'design-knows-no-data',
      severity: 'error',
      from: { path: '^app/src/design/' },
      to: { path: '^app/src/(data|parts|shell|features)/' },
    },
    {
      name: 'storage-in-one-place',
      severity: 'error',
      from: { path: '^app/src', pathNot: '^app/src/data/keyStore\\.ts$' },
      to: { path: 'node_modules/localforage' },
    },
    {
      // What may be done is asked of the acts, never worked out a second time beside them.
      name: 'core-by-its-front-door',
      severity: 'error',
      from: { path: '^(app/src|server/src|e2e)' },
      to: { path: '^core/src/.+/', pathNot: '^core/src/(demo/demoRecord|generated/)' },
    },
    {
      name: 'safety-knows-no-act',
      severity: 'error',
      from: { path: '^core/src/safety/' },
      to: { path: '^core/src/(acts|outbreak/campaign)' },
    },
    // Core's floors: whoever lies lower knows nothing of what stands on it.
    {
      name: 'floor-of-numbers',
      severity: 'error',
      from: { path: '^core/src/(units|time|clock|trends|lifecycle|water|dosing|level|record|knowledge)/' },
      to: { path: '^core/src/(safety|protocols|outbreak|diagnosis|acclimation|introductions|acts)/' },
    },
    {
      name: 'floor-of-safety',
      severity: 'error',
      from: { path: '^core/src/safety/' },
      to: { path: '^core/src/(protocols|outbreak|diagnosis|introductions)/' },
    },
    {
      name: 'floor-of-courses',
      severity: 'error',
      from: { path: '^core/src/(protocols|outbreak|diagnosis|acclimation|introductions)/' },
      to: { path: '^core/src/acts/' },
    },
    {
      // A rule's module is asked through the registry, and knows no course but through its builder.
      name: 'rules-by-their-registry',
      severity: 'error',
      from: { path: '^core/src/', pathNot: '^core/src/(protocols/rules/|index\\.ts$)' },
      to: { path: '^core/src/protocols/rules/', pathNot: '^core/src/protocols/rules/registry\\.ts$' },
    },
    {
      // The world has a truth of its own: whoever plans for it must not see it, and it must not see them.
      name: 'world-is-alone',
      severity: 'error',
      from: { path: '^core/src/world/' },
      to: { path: '^core/src/', pathNot: '^core/src/(world|units|generated)/' },
    },
    {
      name: 'nobody-sees-the-world',
      severity: 'error',
      from: { path: '^core/src/', pathNot: '^core/src/(world|practice)(/|\\.ts$)' },
      to: { path: '^core/src/(world|practice)/' },
    },
    {
      // The simulated house is seen by stand-ins, practice and tests, never by what judges.
      name: 'the-world-is-for-stand-ins',
      severity: 'error',
      from: { path: '^(app/src|server/src)', pathNot: '^app/src/(features/laboratory/standIn|parts/slides/standIn)' },
      to: { path: '^core/src/world' },
    },
    {
      // Practice holds both in its hands; only its own pages and its own record know it.
      name: 'practice-stays-apart',
      severity: 'error',
      from: { path: '^(app/src|server/src)', pathNot: '^app/src/(features/practice/|data/practice\\.ts)' },
      to: { path: '^core/src/practice' },
    },
    { name: 'server-holds-no-core', severity: 'error', from: { path: '^server/src' }, to: { path: '^(core|app)/' } },
    {
      name: 'no-circles',
      severity: 'error',
      from: {},
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only', 'dynamic-import'] } },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: { conditionNames: ['import', 'node', 'default'] },
  },
}
