import './zod-setup.ts';
import '@fontsource-variable/recursive/wght.css';
import './theme/theme.css';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { RouterProvider } from 'react-router';
import { router } from './router.tsx';
import { WorkerNotice } from './shell/worker-notice.tsx';
import { ThemeProvider } from './theme/theme-provider.tsx';

// Records change only through this tab's own mutations, or another tab's message: nothing goes stale by time.
const queries = new QueryClient({
  defaultOptions: {
    queries: { staleTime: Infinity, retry: false, networkMode: 'always' },
    mutations: { networkMode: 'always', retry: false },
  },
});

createRoot(document.getElementById('app')!).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <ThemeProvider>
        <WorkerNotice />
        <RouterProvider router={router} />
      </ThemeProvider>
    </QueryClientProvider>
  </StrictMode>,
);
