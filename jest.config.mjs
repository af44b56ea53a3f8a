const swc = [
  '<rootDir>/scripts/test-transform.mjs',
  {
    jsc: { target: 'es2022', parser: { syntax: 'typescript', tsx: true }, transform: { react: { runtime: 'automatic' } } },
    module: { type: 'es6' },
  },
]

/** @type {import('jest').Config} */
const config = {
  testMatch: ['<rootDir>/src/**/*.test.ts', '<rootDir>/src/**/*.test.tsx', '<rootDir>/scripts/**/*.test.ts'],
  transform: { '^.+\\.tsx?$': swc },
  extensionsToTreatAsEsm: ['.ts', '.tsx'],
  moduleNameMapper: { '^@/(.*)$': '<rootDir>/src/$1', '\\.module\\.css$': '<rootDir>/scripts/test-styles.mjs' },
  modulePathIgnorePatterns: ['<rootDir>/.next/'],
  testTimeout: 60_000,
  maxWorkers: 2,
}

export default config
