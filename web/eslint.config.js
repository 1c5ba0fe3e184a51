import js from '@eslint/js';
import jsxA11y from 'eslint-plugin-jsx-a11y';
import reactHooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** The rooms, from the lowest; each may use those before it, views never one another. */
const ROOMS = ['api', 'text', 'question', 'draft', 'parts'];
const VIEWS = [
  'frame',
  'ladder',
  'policies',
  'spread',
  'seats',
  'previews',
  'directory',
  'logbook',
  'their',
  'readover',
];

/** What a room may not import: the rooms above it, and beside it where it is a view. */
const arrows = [...ROOMS, ...VIEWS].map((room) => {
  const above = VIEWS.includes(room)
    ? VIEWS.filter((v) => v !== room)
    : [...ROOMS.slice(ROOMS.indexOf(room) + 1), ...VIEWS];
  return {
    files: [`src/${room}/**`],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: above.map((other) => `../${other}/*`),
              message: `${room} stands below these, or beside them: what both need belongs in a room below.`,
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
  ...arrows,
  {
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      'react-hooks/incompatible-library': 'off',
      // Mistakes props that carry a ref, and what a drag library hands out, for refs read while rendering.
      'react-hooks/refs': 'off',
      // A box that scrolls has to take the focus, so that it scrolls by keys.
      'jsx-a11y/no-noninteractive-tabindex': 'off',
      'jsx-a11y/no-autofocus': 'off',
      '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: { attributes: false } }],
    },
  },
);
