// The architecture as lint rules: which room may know of which (docs/architecture.md).
import ts from 'typescript-eslint'

/** Each workspace and what it may import; of the contract's, types alone. */
const WORKSPACES = {
  core: [],
  contract: ['core'],
  web: ['contract', 'core'],
  server: ['contract', 'core'],
  cli: ['contract', 'core', 'server'],
  demo: ['contract', 'core'],
}

/** Stages of core in their order: each may know of those before it. */
const STAGES = [
  'errors',
  'math',
  'units',
  'fiber',
  'plant',
  'trace',
  'kit',
  'log',
  'ruleBook',
  'lossTest',
  'locate',
  'survey',
  'report',
  'prove',
  'plan',
  'open',
  'join',
  'endFace',
]
/** The stand-ins know of what they simulate, and nothing that judges knows of them. */
const STAND_INS = { name: 'sim', mayKnow: ['errors', 'math', 'units', 'fiber', 'plant', 'trace'] }

const TESTS = ['**/*.test.ts', '**/*.test.tsx', '**/test/**', 'e2e/**', '*/bench/**']

const anyOf = (names) => `(?:${names.join('|')})`

/** Patterns of imports that files, but for tests, may not have. */
function importRule(files, patterns) {
  return {
    files: [files],
    ignores: TESTS,
    plugins: { '@typescript-eslint': ts.plugin },
    rules: { '@typescript-eslint/no-restricted-imports': ['error', { patterns }] },
  }
}

/** Imports of other workspaces, by name or by path, but of those that are allowed. */
function workspaceRule(workspace) {
  const allowed = WORKSPACES[workspace]
  const foreign = [...Object.keys(WORKSPACES), 'e2e', 'scripts'].filter(
    (other) => other !== workspace && !allowed.includes(other),
  )
  return importRule(`${workspace}/src/**/*.{ts,tsx}`, [
    {
      regex: `^@cold-thread/${anyOf(foreign)}(?:/|$)`,
      message: `${workspace} may import ${allowed.join(', ') || 'no workspace'}.`,
    },
    { regex: `^(?:\\.\\./)+${anyOf(Object.keys(WORKSPACES))}/`, message: 'Import a workspace by its name.' },
    ...(workspace === 'contract'
      ? [{ regex: '^@cold-thread/core', allowTypeImports: true, message: 'Of core the contract takes types.' }]
      : []),
  ])
}

/** Inside core: a stage knows of those before it. */
function stageRule(stage, mayKnow) {
  const others = [...STAGES, STAND_INS.name].filter((other) => other !== stage && !mayKnow.includes(other))
  return importRule(`core/src/${stage}/**/*.ts`, [
    { regex: '^@cold-thread/', message: 'core imports no workspace.' },
    {
      regex: `^(?:\\.\\./)+${anyOf(others)}/`,
      message: `${stage} comes before it, or has no business with it: see lint/houseRules.js for the order.`,
    },
  ])
}

const BUILT_IN = '/^(Error|EvalError|RangeError|ReferenceError|SyntaxError|TypeError|URIError|AggregateError)$/'

/** @type {import('eslint').Linter.Config[]} */
export const houseRules = [
  ...Object.keys(WORKSPACES)
    .filter((workspace) => workspace !== 'core')
    .map(workspaceRule),
  ...STAGES.map((stage, i) => stageRule(stage, STAGES.slice(0, i))),
  stageRule(STAND_INS.name, STAND_INS.mayKnow),
  {
    // A person's mistake has a code; what has none is a fault of the program and answered as one.
    files: ['{core,contract,server,web,cli}/src/**/*.{ts,tsx}'],
    ignores: TESTS,
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector: `ThrowStatement > NewExpression[callee.name=${BUILT_IN}]`,
          message: 'Throw a CodedError for a mistake of a person or a file, a Fault for one of the program.',
        },
      ],
    },
  },
  {
    // Pure computation: no browser, no Node, no clock, no chance of its own.
    files: ['core/src/**/*.ts'],
    ignores: TESTS,
    rules: {
      'no-restricted-globals': [
        'error',
        ...[
          'document',
          'window',
          'navigator',
          'localStorage',
          'indexedDB',
          'fetch',
          'process',
          'Buffer',
          'performance',
        ],
        ...['setTimeout', 'setInterval', 'HTMLElement', 'Worker', 'console'],
      ],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'Chance comes in as a Random.' },
        { object: 'Date', property: 'now', message: 'Time comes in as an argument.' },
      ],
      'no-restricted-imports': ['error', { patterns: [{ regex: '^node:', message: 'core knows nothing of Node.' }] }],
    },
  },
]
