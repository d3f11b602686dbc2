/** The boundaries of docs/architecture.md. */

/** Each knows those before it. */
const layersOfCore = [
  'values',
  'diagnostics',
  'document',
  'language',
  'compile',
  'records',
  'settle',
  'related',
  'analysis',
  'rule-tests',
  'refactor',
  'formats',
  'assistance',
];

/** And within the language. */
const layersOfLanguage = ['types', 'field-types', 'functions', 'expression', 'wording'];

module.exports = {
  forbidden: [
    {
      name: 'no-circular',
      severity: 'error',
      from: { pathNot: '\\.svelte-kit' },
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
    {
      name: 'core-has-no-circle',
      severity: 'error',
      comment: 'not of types either',
      from: { path: '^core/src/' },
      to: { circular: true },
    },
    {
      name: 'core-knows-nobody',
      severity: 'error',
      comment: 'core imports nothing from the application or the demo',
      from: { path: '^core/' },
      to: { path: '^(web|demo|scripts|e2e)/' },
    },
    {
      name: 'core-has-no-host',
      severity: 'error',
      comment: 'the library reaches no file, network or process; only its command and tests do',
      from: { path: '^core/src/', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    ...layersOfCore.map((layer, i) => ({
      name: `core-${layer}-looks-only-down`,
      severity: 'error',
      from: { path: `^core/src/${layer}/`, pathNot: '\\.test\\.ts$' },
      to: { path: `^core/src/(${[...layersOfCore.slice(i + 1), 'host', 'command'].join('|')})/` },
    })),
    ...layersOfLanguage.slice(0, -1).map((layer, i) => ({
      name: `language-${layer}-looks-only-down`,
      severity: 'error',
      from: { path: `^core/src/language/${layer}/`, pathNot: '\\.test\\.ts$' },
      to: { path: `^core/src/language/(${[...layersOfLanguage.slice(i + 1), 'index'].join('|')})\\b` },
    })),
    {
      name: 'core-only-through-its-faces',
      severity: 'error',
      // Tests may use the random rulebooks that core is tested with.
      from: { path: '^(web|demo)/', pathNot: '\\.test\\.ts$' },
      to: {
        path: '^core/src/',
        pathNot: '^core/src/([a-z-]+/index|host/[a-z-]+)\\.ts$',
      },
    },
    {
      name: 'demo-only-through-its-index',
      severity: 'error',
      from: { path: '^web/' },
      to: { path: '^demo/src/', pathNot: '^demo/src/index\\.ts$' },
    },
    {
      name: 'features-keep-their-insides',
      severity: 'error',
      comment: 'a feature is used through its index, its state class or what the shell offers',
      from: { path: '^web/src/lib/features/([^/]+)/', pathNot: '\\.test\\.ts$' },
      to: {
        path: '^web/src/lib/features/([^/]+)/',
        pathNot: [
          '^web/src/lib/features/$1/',
          '^web/src/lib/features/[^/]+/index\\.ts$',
          '^web/src/lib/features/shell/acts\\.svelte\\.ts$',
          '^web/src/lib/features/(draft|samples|proof|rule-kinds/parts)/',
        ],
      },
    },
    {
      name: 'ui-knows-no-rules',
      severity: 'error',
      from: { path: '^web/src/lib/ui/' },
      to: { path: ['^web/src/lib/(features|server)/', '^core/'] },
    },
    {
      name: 'server-stays-on-the-server',
      severity: 'error',
      comment: 'but for tests that hold the two against each other',
      from: { path: '^web/src/lib/(features|ui)/', pathNot: '\\.test\\.ts$' },
      to: { path: '^web/src/lib/server/' },
    },
    {
      name: 'not-to-test',
      severity: 'error',
      from: { pathNot: '\\.(test|spec)\\.ts$|^e2e/|/testing/' },
      to: { path: '\\.(test|spec)\\.ts$' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: ['node_modules', '\\.svelte-kit', 'web/build', 'core/dist', '^\\$'] },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.paths.json' },
    enhancedResolveOptions: {
      extensions: ['.ts', '.js', '.mjs', '.svelte', '.svelte.ts'],
      conditionNames: ['rigid-rule-source', 'svelte', 'import', 'types', 'default'],
      exportsFields: ['exports'],
    },
  },
};
