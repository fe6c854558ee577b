import { defineConfig } from 'vite';

/** Bundles the server for Node; what comes from the registry stays outside. */
export default defineConfig({
  root: import.meta.dirname,
  build: { ssr: 'src/index.ts', outDir: 'dist', target: 'node20', emptyOutDir: true },
  // What was computed by another build is computed again.
  define: { 'process.env.KIVRAM_BUILD': JSON.stringify(process.env.KIVRAM_BUILD ?? 'unbuilt') },
  ssr: { noExternal: [/^@kivram\//] },
});
