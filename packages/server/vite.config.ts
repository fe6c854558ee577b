import { defineConfig } from 'vite';

const inputs: Record<string, Record<string, string>> = {
  production: { index: 'src/index.ts' },
  intake: { intake: 'src/intake/process.ts' },
};

/**
 * Bundles for Node the server (`vite build`), or the process in which files from outside are read (`vite build --mode intake`); what comes from the registry stays outside.
 * They are two builds, since in one build parts of the one may be put into the other, which begins by being loaded.
 */
export default defineConfig(({ mode }) => ({
  root: import.meta.dirname,
  build: {
    ssr: true,
    rolldownOptions: { input: inputs[mode] },
    outDir: 'dist',
    target: 'node20',
    emptyOutDir: mode !== 'intake',
  },
  // What was computed by another build is computed again.
  define: { 'process.env.KIVRAM_BUILD': JSON.stringify(process.env.KIVRAM_BUILD ?? 'unbuilt') },
  ssr: { noExternal: [/^@kivram\//] },
}));
