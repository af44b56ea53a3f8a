import next from 'eslint-config-next'
import importPlugin from 'eslint-plugin-import'
import tseslint from 'typescript-eslint'

/** Each folder of src with what it may import besides itself. Arrows run one way; a circle fails below. */
const ARROWS = {
  core: [],
  standins: ['core'],
  engine: ['standins', 'core'],
  server: ['standins', 'core'],
  cli: ['standins', 'core'],
  ui: ['engine', 'standins', 'core'],
  app: ['ui', 'engine', 'server', 'standins', 'core'],
}

const zones = Object.entries(ARROWS).flatMap(([folder, allowed]) =>
  Object.keys(ARROWS)
    .filter((other) => other !== folder && !allowed.includes(other))
    .map((other) => ({
      target: `./src/${folder}`,
      from: `./src/${other}`,
      message: `${folder} must not import ${other}: arrows run app -> ui -> engine -> standins -> core, app -> server -> standins -> core, cli -> standins -> core.`,
    })),
)

/** Folders of the modes: what all modes share must not look into one of them, nor one mode into another. */
const MODES = ['ft8', 'psk31', 'packet']
const SHARED_STATION = {
  target: './src/engine/station',
  from: [
    ...MODES.map((mode) => `./src/core/${mode}`),
    ...MODES.map((mode) => `./src/standins/${mode}`),
    ...MODES.map((mode) => `./src/engine/modes/${mode}`),
  ],
  message: 'The shared station knows no mode: it has their list (engine/modes) and their declarations (core/modes).',
}
const MODE_ZONES = MODES.flatMap((mode) =>
  MODES.filter((other) => other !== mode).map((other) => ({
    target: `./src/engine/modes/${mode}`,
    from: `./src/engine/modes/${other}`,
    message: 'A mode knows no other mode.',
  })),
)
/** Screens know the station through its port alone. */
const PORT_ONLY = {
  target: './src/ui',
  from: [
    './src/engine/station/station.ts',
    './src/engine/port/localStation.ts',
    './src/engine/modes/index.ts',
    './src/engine/station/air.ts',
  ],
  message: 'Screens know the station through engine/port/stationPort alone, so that it may run elsewhere.',
}

const PURE = 'The core is pure: time, randomness and transport are arguments.'

const config = [
  {
    ignores: [
      '.next/',
      'node_modules/',
      'public/worklets/',
      'data/',
      'demo-data/',
      'test-results/',
      'playwright-report/',
      'tmp/',
      'next-env.d.ts',
    ],
  },
  ...next,
  ...tseslint.configs.recommended,
  {
    files: ['**/*.{ts,tsx,mjs}'],
    plugins: { import: importPlugin },
    settings: { 'import/resolver': { typescript: { project: './tsconfig.json' } }, 'import/ignore': ['node_modules'] },
    rules: {
      'import/no-restricted-paths': ['error', { zones: [...zones, PORT_ONLY, ...MODE_ZONES] }],
      'import/no-cycle': ['error', { ignoreExternal: true, disableScc: true }],
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', ignoreRestSiblings: true }],
      eqeqeq: 'error',
    },
  },
  // Its tests are of whole stations, so they may know the modes.
  {
    files: ['src/engine/station/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: { 'import/no-restricted-paths': ['error', { zones: [...zones, SHARED_STATION] }] },
  },
  // Playwright's fixtures are given by a function called use, which is no hook.
  { files: ['e2e/**/*.ts'], rules: { 'react-hooks/rules-of-hooks': 'off', 'no-empty-pattern': 'off' } },
  {
    files: ['src/core/**/*.ts', 'src/standins/**/*.ts'],
    // Stand-ins on real ports need the system; what they say is decided outside that folder.
    ignores: ['**/*.test.ts', 'src/standins/node/**'],
    rules: {
      'no-restricted-globals': [
        'error',
        ...['window', 'document', 'navigator', 'performance', 'process', 'fetch', 'setTimeout', 'setInterval', 'localStorage'].map(
          (name) => ({ name, message: PURE }),
        ),
      ],
      'no-restricted-properties': [
        'error',
        { object: 'Date', property: 'now', message: PURE },
        { object: 'Math', property: 'random', message: PURE },
      ],
      'no-restricted-syntax': ['error', { selector: "NewExpression[callee.name='Date'][arguments.length=0]", message: PURE }],
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: ['react', 'react-dom', 'next', 'next/*', '@mui/*', 'node:*', 'fs', 'path', 'drizzle-orm', '@electric-sql/*'],
              message: PURE,
            },
          ],
        },
      ],
    },
  },
  {
    files: ['src/engine/**/*.ts'],
    ignores: ['src/engine/browser/**', '**/*.test.ts'],
    rules: {
      'no-restricted-globals': [
        'error',
        ...['window', 'document', 'navigator', 'localStorage'].map((name) => ({
          name,
          message: 'The engine runs without a page: only engine/browser may use this.',
        })),
      ],
    },
  },
]

export default config
