import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [react()],
  worker: { format: 'es' },
  build: {
    // Fonts and pictures stay files, so that the content security policy can name them.
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 1200,
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            {
              name: 'first',
              test: /node_modules[\\/](react|react-dom|react-router|scheduler|zod|@tanstack|localforage)[\\/]/,
              tags: ['$initial'],
            },
            { name: 'stage', test: /node_modules[\\/](three|@react-three)[\\/]/ },
          ],
        },
      },
    },
  },
});
