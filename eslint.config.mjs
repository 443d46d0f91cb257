// Faults, not taste: what these rules find does not work, or does not do what it seems to.
import js from '@eslint/js';

const browser = Object.fromEntries(['window', 'document', 'localStorage', 'navigator', 'setTimeout', 'clearTimeout', 'setInterval', 'clearInterval', 'Alpine', 'htmx', 'requestAnimationFrame', 'matchMedia', 'fetch', 'location', 'URL', 'URLSearchParams', 'self', 'caches', 'FormData', 'DOMParser', 'TextDecoderStream', 'performance'].map((name) => [name, 'readonly']));
const node = Object.fromEntries(['process', 'console', 'setTimeout', 'clearTimeout', 'performance', 'URL', 'URLSearchParams', 'fetch', 'document', 'window', 'navigator', 'localStorage', 'getComputedStyle', 'Buffer', 'structuredClone', 'Event', 'innerWidth', 'Node'].map((name) => [name, 'readonly']));
const rules = {
    ...js.configs.recommended.rules,
    eqeqeq: 'error',
    'no-unused-vars': ['error', { caughtErrors: 'none' }],
    'no-implicit-globals': 'error',
    'no-shadow': 'error',
};

export default [
    { files: ['assets/**/*.js'], languageOptions: { sourceType: 'module', globals: browser }, rules: { ...rules, 'no-var': 'error', 'prefer-const': 'error', 'prefer-arrow-callback': 'error' } },
    { files: ['assets/start.js', 'assets/worker.js'], languageOptions: { sourceType: 'script' } },
    { files: ['e2e/**/*.mjs', 'tests/**/*.mjs', '*.mjs'], languageOptions: { sourceType: 'module', globals: node }, rules },
];
