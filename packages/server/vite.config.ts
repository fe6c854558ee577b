import { defineConfig } from 'vite';

const inputs: Record<string, Record<string, string>> = {
  production: { index: 'src/index.ts' },
  intake: { intake: 'src/intake/process.ts' },
  device: { device: 'src/radio/devices/process.ts' },
};

/** What only benches use. */
const benchOnly = ['@playwright/test'];

/**
 * Stays outside: programs for this machine, what brings files of its own, what a library asks for and does without, and net-snmp, which sets what cannot be set: in a
 * bundle, where all code is strict, that throws.
 */
const outside = ['sharp', '@node-rs/argon2', 'pdfmake', 'umzug', 'net-snmp', 'pg-native', 'pg-hstore', ...benchOnly];

/**
 * Bundles for Node the server (`vite build`), or the processes in which files from outside are read and devices are asked (`--mode intake`, `--mode device`), with what comes from the registry: to
 * look for its thousand files took a third of a start. They are three builds, since in one build parts of the one may be put into the other, which begins by being loaded.
 */
export default defineConfig(({ mode }) => ({
  root: import.meta.dirname,
  build: {
    ssr: true,
    rolldownOptions: { input: inputs[mode], external: outside },
    outDir: 'dist',
    target: 'node20',
    emptyOutDir: mode === 'production',
  },
  // What was computed by another build is computed again.
  define: { 'process.env.KIVRAM_BUILD': JSON.stringify(process.env.KIVRAM_BUILD ?? 'unbuilt') },
  // As Node itself would find them: two forms of one library do not meet.
  ssr: { noExternal: true, resolve: { mainFields: ['main'] } },
}));
