import js from '@eslint/js';
import jsxA11y from 'eslint-plugin-jsx-a11y';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Folders from the lowest up: each may import those before it. Views import no other view. */
const LAYERS = ['api', 'text', 'question', 'draft', 'parts'];
const VIEWS = [
  'frame',
  'ladder',
  'policies',
  'matrix',
  'seats',
  'settings',
  'previews',
  'directory',
  'logbook',
  'userpreview',
  'review',
  'today',
];

/** What a folder may not import: the folders above it, and a view no other view. */
const imports = [...LAYERS, ...VIEWS].map((folder) => {
  const above = VIEWS.includes(folder)
    ? VIEWS.filter((v) => v !== folder)
    : [...LAYERS.slice(LAYERS.indexOf(folder) + 1), ...VIEWS];
  return {
    files: [`src/${folder}/**`],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: above.map((other) => `../${other}/*`),
              message: `${folder} must not import these. Move what both need into a folder below.`,
            },
          ],
        },
      ],
    },
  };
});

export default tseslint.config(
  { ignores: ['dist', 'src/api/schema.d.ts', 'eslint.config.js', 'scripts'] },
  js.configs.recommended,
  ...tseslint.configs.recommendedTypeChecked,
  jsxA11y.flatConfigs.recommended,
  reactHooks.configs.flat.recommended,
  ...imports,
  {
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      'react-hooks/incompatible-library': 'off',
      // Mistakes props that carry a ref, and what a drag library hands out, for refs read while rendering.
      'react-hooks/refs': 'off',
      // A box that scrolls has to take the focus, so that it scrolls by keys.
      'jsx-a11y/no-noninteractive-tabindex': 'off',
      'jsx-a11y/no-autofocus': 'off',
      'max-lines-per-function': ['error', { max: 250, skipBlankLines: true, skipComments: true }],
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { attributes: false } }],
    },
  },
);
