import { defineConfig } from 'vite';

/** The command line, and what its worker threads run, as two files side by side. */
export default defineConfig({
  // Its threads begin from a file of its own.
  ssr: { noExternal: true, external: ['piscina'] },
  build: {
    ssr: true,
    target: 'node20',
    minify: true,
    rollupOptions: {
      input: { main: 'src/main.ts', 'routine-worker': 'src/routine-worker.ts' },
      // What a chunk looks for beside itself lies beside all of them.
      output: { chunkFileNames: '[name]-[hash].js' },
    },
  },
});
