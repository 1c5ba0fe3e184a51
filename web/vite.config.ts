/// <reference types="vitest/config" />
import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react(), tailwindcss()],
  server: { proxy: { '/api': 'http://127.0.0.1:7466' } },
  build: { assetsInlineLimit: 0 },
  resolve: { alias: process.env.VITEST ? {} : { 'react-style-singleton': '/src/adoptedStyles.ts' } },
  // Files share what they import: making a page anew for each took longer than all tests.
  test: { environment: 'jsdom', isolate: false, testTimeout: 30_000, setupFiles: ['src/setup.test-env.ts'] },
});
