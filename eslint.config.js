import js from '@eslint/js';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import { readFileSync } from 'node:fs';
import ts from 'typescript-eslint';

/** Each is one switch over all that the language has. */
const agreedLong = ['core/src/language/expression/option-texts.ts'];

/** Keys of an object in a module whose compiler sees to it that none is missing. */
function keysIn(path, name) {
  const text = readFileSync(new URL(path, import.meta.url), 'utf8');
  const [, body] = new RegExp(`const ${name}[^{]*= \\{([^}]*)\\}`).exec(text);
  return new Set(
    body.split(',').flatMap(
      (entry) =>
        entry
          .split(':')[0]
          .replace(/['\s]+/g, ' ')
          .trim() || [],
    ),
  );
}

const registered = {
  type: { keys: keysIn('web/src/lib/features/fields/inputs/index.ts', 'inputs'), ask: 'fieldTypeOf(field)' },
  kind: { keys: keysIn('web/src/lib/features/rule-kinds/faces.ts', 'faces'), ask: 'findRuleKind(rule.kind)' },
};

/** Forbids comparing the key of a field type or rule kind: descriptors say what they are able to do. */
const registries = {
  meta: {
    type: 'problem',
    messages: { compared: 'Ask {{ask}} what it is able to do; its key is compared nowhere.' },
    schema: [],
  },
  create(context) {
    return {
      BinaryExpression(node) {
        if (!/^[!=]==?$/.test(node.operator)) return;
        for (const [of, to] of [
          [node.left, node.right],
          [node.right, node.left],
        ]) {
          const member = of.type === 'ChainExpression' ? of.expression : of;
          const known = Object.hasOwn(registered, member.property?.name ?? '') && registered[member.property.name];
          if (known && to.type === 'Literal' && known.keys.has(String(to.value)))
            context.report({ node, messageId: 'compared', data: { ask: known.ask } });
        }
      },
    };
  },
};

const areaAddress = /^\/(desk|fields|mappings|records|release|settings|map|document|findings)([/?#]|$)/;

/** Forbids addresses of areas outside the module that builds them. */
const addresses = {
  meta: { type: 'problem', messages: { literal: 'Addresses are built by $lib/addresses.ts.' }, schema: [] },
  create(context) {
    const look = (node, text) => areaAddress.test(text) && context.report({ node, messageId: 'literal' });
    return {
      Literal: (node) => typeof node.value === 'string' && look(node, node.value),
      TemplateElement: (node) => look(node, node.value.cooked ?? ''),
      SvelteLiteral: (node) => look(node, node.value),
    };
  },
};

/** Members that hold words: two things may have the same, and a page that keys by them falls over when they do. */
const wordy = new Set([
  'text',
  'name',
  'label',
  'title',
  'message',
  'from',
  'to',
  'why',
  'sentence',
  'heading',
  'plural',
  'does',
]);

const eachKeys = {
  meta: {
    type: 'problem',
    messages: { words: 'Words may stand twice: key by an identity, or by the index.' },
    schema: [],
  },
  create: (context) => ({
    SvelteEachBlock({ key }) {
      // Words put together are words still.
      const isWords = (e) =>
        (e.type === 'MemberExpression' && wordy.has(e.property.name)) ||
        (e.type === 'BinaryExpression' && [e.left, e.right].some(isWords)) ||
        (e.type === 'TemplateLiteral' && e.expressions.some(isWords));
      if (key && isWords(key)) context.report({ node: key, messageId: 'words' });
    },
  }),
};

/** Forbids neutral numbers and days in sentences: what a value is written like is said by a `Writing`. */
const written = {
  meta: {
    type: 'problem',
    messages: {
      neutral: 'writtenValue, spokenValue and writtenLoose write for whoever reads; plainWriting for programs.',
    },
    schema: [],
  },
  create: (context) => ({
    CallExpression(node) {
      const { callee } = node;
      const formats = callee.property?.name === 'format' && node.arguments.length === 2;
      if (formats || callee.name === 'groupDigits') context.report({ node, messageId: 'neutral' });
    },
  }),
};

/** Forbids arrows between what two things are called: where both are read from right to left they would change places. */
const becomes = {
  meta: { type: 'problem', messages: { arrow: 'becomes(from, to) keeps the two in their order.' }, schema: [] },
  create(context) {
    const look = (node, text) => text.includes('→') && context.report({ node, messageId: 'arrow' });
    return {
      Literal: (node) => typeof node.value === 'string' && look(node, node.value),
      TemplateElement: (node) => look(node, node.value.raw),
      SvelteText: (node) => look(node, node.value),
      SvelteLiteral: (node) => look(node, node.value),
    };
  },
};

const countNames = new Set(
  'all amount blanks changes count failures findings hits length most records rows samples size tests times total zeros'.split(
    ' ',
  ),
);

/** Forbids numbers of things as they are among words: what a thousand is written like is the reader's. */
const counts = {
  meta: { type: 'problem', messages: { raw: 'counted and ownWriting write numbers for whoever reads.' }, schema: [] },
  create(context) {
    function look(e) {
      if (e.type === 'LogicalExpression' || e.type === 'ConditionalExpression')
        return [e.left, e.right, e.consequent, e.alternate].forEach((part) => part && look(part));
      if (e.type === 'TSNonNullExpression') return look(e.expression);
      const named = e.type === 'MemberExpression' ? (e.computed ? e.object : e) : e;
      const name = named.type === 'MemberExpression' ? named.property.name : named.name;
      if (countNames.has(name)) context.report({ node: e, messageId: 'raw' });
    }
    const isSentence = (quasis) => quasis.some((q) => /\p{L}{2}/u.test(q.value.raw) && / /.test(q.value.raw));
    return {
      SvelteMustacheTag: (node) => /^Svelte(Element|.*Block)$/.test(node.parent.type) && look(node.expression),
      TemplateLiteral: (node) => isSentence(node.quasis) && node.expressions.forEach(look),
    };
  },
};

const ownRules = { rules: { addresses, becomes, counts, eachKeys, registries, written } };

const config = [
  {
    ignores: [
      '**/build/',
      '**/dist/',
      '**/.svelte-kit/',
      '.data/',
      'docs/',
      '**/test-results/',
      '**/playwright-report/',
    ],
  },
  js.configs.recommended,
  ...ts.configs.strict,
  ...svelte.configs.recommended,
  {
    languageOptions: { globals: { ...globals.node, ...globals.browser } },
    rules: {
      '@typescript-eslint/consistent-type-imports': 'error',
      // Indexing is checked by the compiler (noUncheckedIndexedAccess); `!` marks what the code before it guarantees.
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/no-invalid-void-type': 'off',
      'no-undef': 'off',
    },
  },
  {
    // The compiler tells what is used nowhere, of members too.
    files: ['**/*.ts', '**/*.svelte'],
    rules: { '@typescript-eslint/no-unused-vars': 'off' },
  },
  {
    // Playwright reads from the pattern which fixtures a fixture needs; one without any has an empty one.
    files: ['e2e/support/*.ts'],
    rules: { 'no-empty-pattern': 'off' },
  },
  {
    files: ['e2e/**/*.ts'],
    ignores: ['e2e/support/expect.ts'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          paths: [
            {
              name: '@playwright/test',
              importNames: ['expect'],
              message: 'Take that of e2e/support: it waits lightly.',
            },
          ],
        },
      ],
    },
  },
  // Half a minute of processor: `npm run check` takes it, `npm test` has the compiler alone look at types.
  process.env['LINT_TYPES'] !== 'off' && {
    // What only types can tell: a promise that nobody waits for, a switch that forgets a case, a cast that says nothing.
    files: ['core/src/**/*.ts', 'web/src/**/*.ts'],
    ignores: ['**/*.test.ts', '**/*.svelte.ts'],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/await-thenable': 'error',
      '@typescript-eslint/no-array-delete': 'error',
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-for-in-array': 'error',
      '@typescript-eslint/no-misused-promises': 'error',
      '@typescript-eslint/no-unnecessary-type-assertion': 'error',
      '@typescript-eslint/only-throw-error': 'error',
      '@typescript-eslint/prefer-promise-reject-errors': 'error',
      '@typescript-eslint/require-array-sort-compare': ['error', { ignoreStringArrays: true }],
      '@typescript-eslint/restrict-plus-operands': 'error',
      '@typescript-eslint/return-await': 'error',
      '@typescript-eslint/switch-exhaustiveness-check': ['error', { considerDefaultExhaustiveForUnions: true }],
    },
  },
  {
    // A function fits one look, a file is about one thing. Said, not enforced.
    files: ['core/src/**/*.ts', 'web/src/**/*.{ts,svelte}'],
    ignores: ['**/*.test.ts', 'core/src/testing/**', ...agreedLong],
    rules: {
      complexity: ['warn', 25],
      'max-depth': ['warn', 5],
      'max-lines': ['warn', { max: 400, skipBlankLines: true, skipComments: true }],
      'max-lines-per-function': ['warn', { max: 90, skipBlankLines: true, skipComments: true }],
    },
  },
  {
    // What tells field types and rule kinds apart is said by their descriptors: a new one is then whole by itself.
    files: ['core/src/**/*.ts', 'web/src/**/*.{ts,svelte}'],
    ignores: ['**/*.test.ts'],
    plugins: { 'rigid-rule': ownRules },
    rules: { 'rigid-rule/registries': 'error' },
  },
  {
    // A number that one reader takes for a thousand times another's.
    files: ['core/src/**/*.ts', 'web/src/**/*.{ts,svelte}'],
    ignores: ['**/*.test.ts', 'core/src/language/{field-types,wording}/**'],
    plugins: { 'rigid-rule': ownRules },
    rules: { 'rigid-rule/written': 'error' },
  },
  {
    files: ['web/src/**/*.{ts,svelte}'],
    ignores: ['**/*.test.ts', 'web/src/lib/server/**'],
    plugins: { 'rigid-rule': ownRules },
    rules: { 'rigid-rule/counts': 'error' },
  },
  {
    files: ['core/src/**/*.ts', 'web/src/**/*.{ts,svelte}'],
    // A function's type has no name of a person's in it.
    ignores: ['**/*.test.ts', 'core/src/language/wording/isolated.ts', 'core/src/assistance/describe.ts'],
    plugins: { 'rigid-rule': ownRules },
    rules: { 'rigid-rule/becomes': 'error' },
  },
  {
    // Whatever is sent as a form is held to what its schema names.
    files: ['web/src/**/*.ts'],
    ignores: ['web/src/lib/server/body.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        { selector: 'CallExpression[callee.property.name="formData"]', message: 'Read forms by readForm of body.ts.' },
      ],
    },
  },
  {
    // An address that two places write goes wrong in one of them.
    files: ['web/src/**/*.{ts,svelte}'],
    ignores: ['**/*.test.ts', 'web/src/lib/addresses.ts', 'web/src/lib/server/testing/**'],
    rules: {
      'rigid-rule/addresses': 'error',
      'rigid-rule/eachKeys': 'error',
    },
    plugins: { 'rigid-rule': ownRules },
  },
  {
    // A browser may keep nothing, and looking there may fail; a network may go away without a word.
    files: ['web/src/**/*.{ts,svelte}'],
    ignores: ['web/src/lib/{browser-storage,network}.ts', 'web/src/lib/server/**', 'web/src/**/*.test.ts'],
    rules: {
      'no-restricted-globals': [
        'error',
        ...['localStorage', 'sessionStorage', 'caches', 'indexedDB'].map((name) => ({
          name,
          message: 'browser-storage.ts keeps things where a browser keeps nothing as well.',
        })),
        { name: 'fetch', message: 'ask() of network.ts does not wait for ever.' },
      ],
    },
  },
  {
    // Browsers keep it from pages that came without TLS.
    files: ['web/src/**'],
    ignores: [
      'web/src/lib/unique-id.ts',
      'web/src/lib/{locale,now,organisation.svelte}.ts',
      'web/src/lib/ui/SentForm.svelte',
      'web/src/lib/server/**',
      'web/src/**/*.test.ts',
    ],
    rules: {
      'no-restricted-properties': [
        'error',
        { object: 'crypto', property: 'randomUUID', message: 'uniqueId() makes one everywhere.' },
        { object: 'crypto', property: 'subtle', message: 'There is none without TLS.' },
        {
          object: 'Intl',
          property: 'DateTimeFormat',
          message: 'ownMoments() knows the zone, the calendar and the digits.',
        },
      ],
      'no-restricted-imports': [
        'error',
        {
          name: '$app/forms',
          importNames: ['enhance'],
          message: 'SentForm sends a form once, and loses nothing of it.',
        },
      ],
      // Addresses are plain: the application is served from the root of its host.
      'svelte/no-navigation-without-resolve': 'off',
    },
  },
  {
    // A label that is met in part names whatever else comes to carry it: *Postcode* and *Why is Postcode 1111?*.
    files: ['e2e/**/*.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector: 'CallExpression[callee.property.name="getByLabel"][arguments.length=1]:not([arguments.0.regex])',
          message: 'A label is named whole: getByLabel(name, { exact: true }).',
        },
      ],
    },
  },
  {
    // Of what is not typed in, browsers tell different elements.
    files: ['web/src/**/*.svelte'],
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector:
            'SvelteElement[name.name!=/^(input|textarea|svelte:window)$/] > SvelteStartTag > SvelteAttribute[key.name=/^on(copy|cut|paste)$/]',
          message: 'Use clipboard of ui/clipboard.ts.',
        },
        {
          selector: ['> ', '> .expression ']
            .map((within) => `SvelteEachBlock ${within}CallExpression[callee.property.name="slice"]`)
            .join(),
          message: 'A list that is cut short offers the rest: ui/FirstOf.svelte.',
        },
      ],
    },
  },
  {
    files: ['**/*.svelte', '**/*.svelte.ts'],
    languageOptions: { parserOptions: { parser: ts.parser, extraFileExtensions: ['.svelte'] } },
    rules: {
      // Sets and maps that are built once and read are not reactive state.
      'svelte/prefer-svelte-reactivity': 'off',
    },
  },
].filter(Boolean);

export default ts.config(...config);
