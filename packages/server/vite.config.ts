import { defineConfig } from 'vite';

/** Bundles the server for Node; what comes from the registry stays outside. */
export default defineConfig({
  root: import.meta.dirname,
  // The server, and the process in which files from outside are read.
  build: {
    ssr: true,
    rolldownOptions: { input: { index: 'src/index.ts', intake: 'src/intake/process.ts' } },
    outDir: 'dist',
    target: 'node20',
    emptyOutDir: true,
  },
  // What was computed by another build is computed again.
  define: { 'process.env.KIVRAM_BUILD': JSON.stringify(process.env.KIVRAM_BUILD ?? 'unbuilt') },
  ssr: { noExternal: [/^@kivram\//] },
});
