import { isRouteErrorResponse, useRouteError } from 'react-router';
import { NoticePage } from './notice-page.tsx';

/** In place of a white page: what happened, that nothing is lost, and the way back. */
export function BrokenPage() {
  const error = useRouteError();
  if (isRouteErrorResponse(error)) return <MissingPage />;
  return (
    <NoticePage
      status="warning"
      title="This page cannot be shown"
      sentence={`Your shots are saved up to the last change. What went wrong: ${error instanceof Error ? error.message : 'it did not say'}`}
      anew
    />
  );
}

export function MissingPage() {
  return (
    <NoticePage status="info" title="There is no such page" sentence="The address leads nowhere." anew />
  );
}
