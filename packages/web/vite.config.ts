import react from '@vitejs/plugin-react';
import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';

export default defineConfig({
  root: import.meta.dirname,
  plugins: [react()],
  resolve: {
    alias: [
      { find: /^proj4$/, replacement: fileURLToPath(new URL('./src/utmOnly.ts', import.meta.url)) },
      // Without what makes up for browsers of ten years ago.
      { find: /^reflect-metadata$/, replacement: 'reflect-metadata/lite' },
    ],
  },
  build: { outDir: 'dist', emptyOutDir: true, target: 'es2022', assetsInlineLimit: 0, manifest: true },
});
