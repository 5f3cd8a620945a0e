import { createBrowserRouter } from 'react-router';
import { BrokenPage, MissingPage } from './shell/broken-page.tsx';
import { loadBench } from './shell/load-bench.ts';
import { Loading } from './shell/loading.tsx';
import { ShotsPage } from './shots/shots-page.tsx';

/** The other pages come when they are asked for: the first page needs neither the stage nor its library. */
export const router = createBrowserRouter([
  {
    ErrorBoundary: BrokenPage,
    HydrateFallback: Loading,
    children: [
      { index: true, Component: ShotsPage },
      {
        path: 'pantry',
        lazy: async () => ({ Component: (await import('./pantry/pantry-page.tsx')).PantryPage }),
      },
      {
        path: 'routines',
        lazy: async () => ({ Component: (await import('./routines/routines-page.tsx')).RoutinesPage }),
      },
      {
        path: 'characters/:id?',
        lazy: async () => ({ Component: (await import('./characters/characters-page.tsx')).CharactersPage }),
      },
      {
        path: 'help',
        lazy: async () => ({ Component: (await import('./help/help-page.tsx')).HelpPage }),
      },
      {
        // One page: the bench stays open while two are compared.
        path: 'shots/:id/compare?',
        lazy: async () => ({ Component: (await loadBench()).BenchPage }),
      },
      { path: '*', Component: MissingPage },
    ],
  },
]);
