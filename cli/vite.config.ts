import { defineConfig } from 'vite';

/** The command line, and what its worker threads run, as two files side by side. */
export default defineConfig({
  build: {
    ssr: true,
    rollupOptions: { input: { main: 'src/main.ts', 'routine-worker': 'src/routine-worker.ts' } },
  },
});
