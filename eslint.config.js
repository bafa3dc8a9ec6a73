import js from '@eslint/js';
import prettier from 'eslint-config-prettier';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';

export default ts.config(
	{ ignores: ['build/', '.svelte-kit/', '.ventrel/', 'node_modules/'] },
	js.configs.recommended,
	...ts.configs.strict,
	...svelte.configs.recommended,
	prettier,
	...svelte.configs.prettier,
	{
		languageOptions: { globals: { ...globals.browser, ...globals.node } },
		rules: {
			'no-undef': 'off',
			// Indexing is checked by the compiler; in the hot loops the index is known to be inside.
			'@typescript-eslint/no-non-null-assertion': 'off',
			'no-console': 'error',
			eqeqeq: ['error', 'always', { null: 'ignore' }],
			// Served from the root of its own origin: addresses need no resolving.
			'svelte/no-navigation-without-resolve': 'off',
		},
	},
	{
		files: ['**/*.svelte', '**/*.svelte.ts'],
		languageOptions: {
			parserOptions: {
				parser: ts.parser,
				extraFileExtensions: ['.svelte'],
				// As svelte.config.js has it for our own files; what is kept of a run cannot hold its function.
				svelteConfig: { compilerOptions: { runes: true } },
			},
		},
	},
	{ files: ['scripts/**', 'bench/**', 'demo/**', 'docs/examples/**'], rules: { 'no-console': 'off' } },
);
