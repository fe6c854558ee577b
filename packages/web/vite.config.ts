import react from '@vitejs/plugin-react';
import { fileURLToPath } from 'node:url';
import { constants } from 'node:zlib';
import { defineConfig } from 'vite';
import { compression } from 'vite-plugin-compression2';
import { VitePWA } from 'vite-plugin-pwa';

/** Large, and of few screens: charts, the map, and what positions and terrain files are read with. */
const heavy = /node_modules\/(echarts|zrender|leaflet|proj4|geotiff|tslib)\//;

export default defineConfig({
  root: import.meta.dirname,
  plugins: [
    react(),
    VitePWA({
      strategies: 'injectManifest',
      srcDir: 'src/offline',
      filename: 'worker.ts',
      // The page starts it itself: its policy runs no script that stands in the page.
      injectRegister: null,
      manifest: {
        id: '/',
        name: 'Kivram',
        short_name: 'Kivram',
        description: 'Planner, measuring aid and logbook for radio links',
        start_url: '/',
        display: 'standalone',
        background_color: '#ffffff',
        theme_color: '#111a20',
        icons: [
          { src: '/icon-192.png', sizes: '192x192', type: 'image/png' },
          { src: '/icon-512.png', sizes: '512x512', type: 'image/png' },
          { src: '/icon-maskable.png', sizes: '512x512', type: 'image/png', purpose: 'maskable' },
        ],
      },
      injectManifest: {
        globPatterns: ['assets/**/*.{js,css,woff2}', '*.{svg,png}'],
        rollupFormat: 'iife',
        buildPlugins: { vite: [{ name: 'quiet', config: () => ({ logLevel: 'warn' }) }] },
        maximumFileSizeToCacheInBytes: 4_000_000,
      },
    }),
    // The server sends what is packed here; the last two grades of packing take ten times as long and save a fiftieth.
    compression({
      algorithms: [
        ['brotliCompress', { params: { [constants.BROTLI_PARAM_QUALITY]: 9 } }],
        ['gzip', { level: 9 }],
      ],
      include: /\.(js|css|svg|webmanifest)$/,
    }),
  ],
  // What another build has kept in a browser is not read.
  define: { 'import.meta.env.VITE_BUILD': JSON.stringify(process.env.KIVRAM_BUILD ?? 'unbuilt') },
  resolve: {
    alias: [
      { find: /^proj4$/, replacement: fileURLToPath(new URL('./src/utmOnly.ts', import.meta.url)) },
      // Without what makes up for browsers of ten years ago.
      { find: /^reflect-metadata$/, replacement: 'reflect-metadata/lite' },
    ],
  },
  build: {
    outDir: 'dist',
    emptyOutDir: true,
    target: 'es2022',
    assetsInlineLimit: 0,
    manifest: true,
    chunkSizeWarningLimit: 600,
    rolldownOptions: {
      output: {
        codeSplitting: {
          // What thirteen screens or more share comes as one file. In files of their own, as it would be cut by itself, a screen asked for fifty, and to ask took a fifth of the
          // time that it needs to open; with fewer sharers each screen would bring much that it has no use for.
          groups: [
            { name: 'common', minShareCount: 13, test: (id) => !heavy.test(id) },
            // What the law says is always asked together.
            { name: 'law', test: /core\/src\/spectrum\/(allowance|channel|lawAnswer|licence|refusal|ruleSet)\.ts$/ },
          ],
        },
      },
    },
  },
});
