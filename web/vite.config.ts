import { basename, join } from 'node:path';
import react from '@vitejs/plugin-react';
import { type BuildEnvironmentOptions, defineConfig, type Plugin } from 'vite';
import { compression } from 'vite-plugin-compression2';

const build: BuildEnvironmentOptions = {
  outDir: 'dist',
  // Fonts and pictures stay files: the content security policy allows no data addresses for fonts.
  assetsInlineLimit: 0,
};

/**
 * Definitions come to a public page as the server has checked them: it runs no schemas, and does without the library that they
 * are written with.
 */
const withoutSchemas: Plugin = {
  name: 'without-schemas',
  enforce: 'pre',
  applyToEnvironment: ({ name }) => name === 'publicPage',
  resolveId: (id) => (id === 'zod' ? join(import.meta.dirname, 'src/publicpage/noSchemas.ts') : undefined),
};

/** Two bundles that share no script: the staff application, and the public page, which stays small that way. */
export default defineConfig({
  // The server sends what is compressed here, once and at its best.
  plugins: [
    react(),
    withoutSchemas,
    compression({ algorithms: ['gzip', 'brotliCompress'], include: /\.(js|css|svg)$/ }),
  ],
  // A class is called after its file and its name in it: `card_head` for `.head` of card.module.css.
  css: {
    modules: {
      generateScopedName: (name, file) => `${basename(file.split('?')[0] ?? file, '.module.css')}_${name}`,
    },
  },
  root: import.meta.dirname,
  base: '/',
  environments: {
    client: { build: { ...build, emptyOutDir: true, rolldownOptions: { input: 'index.html' } } },
    publicPage: {
      consumer: 'client',
      build: { ...build, emptyOutDir: false, rolldownOptions: { input: 'public.html' } },
    },
  },
  builder: {
    async buildApp({ build, environments }) {
      for (const environment of Object.values(environments))
        if (environment.config.consumer === 'client') await build(environment);
    },
  },
});
