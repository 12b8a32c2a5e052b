import react from '@vitejs/plugin-react';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [react()],
  server: { proxy: { '/api': 'http://127.0.0.1:8420' } },
  build: { chunkSizeWarningLimit: 2000 },
  test: {
    environment: 'jsdom',
    setupFiles: ['src/test/setup.ts'],
    include: ['src/**/*.test.{ts,tsx}'],
    restoreMocks: true,
    // The files share what they load, for loading it takes longer than the tests: each cleans up behind itself.
    isolate: false,
    // A machine that compiles beside it is slow.
    testTimeout: 30_000,
  },
});
