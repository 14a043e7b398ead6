import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react()],
  root: import.meta.dirname,
  base: '/',
  build: {
    outDir: 'dist',
    // Fonts and pictures stay files: the content security policy allows no data addresses for fonts.
    assetsInlineLimit: 0,
    rollupOptions: { input: { index: 'index.html', public: 'public.html' } },
  },
});
