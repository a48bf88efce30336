import { svelte } from '@sveltejs/vite-plugin-svelte';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  base: '/static/',
  plugins: [svelte(), tailwindcss()],
  resolve: { conditions: process.env.VITEST ? ['browser'] : undefined },
  server: {
    cors: { origin: /^http:\/\/127\.0\.0\.1(:\d+)?$/ },
    // In development the page comes from Django; fonts and the like come from here.
    origin: process.env.VITE_ORIGIN,
  },
  build: {
    manifest: 'manifest.json',
    outDir: 'dist',
    emptyOutDir: true,
    rollupOptions: { input: 'src/main.ts' },
  },
  test: {
    environment: 'jsdom',
    // One page for all files of a worker: making one takes longer than most of them run.
    isolate: false,
    setupFiles: ['src/test/setup.ts'],
    include: ['src/**/*.test.ts'],
  },
});
