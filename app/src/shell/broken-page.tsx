import { Button, Result } from 'antd';
import { isRouteErrorResponse, Link, useRouteError } from 'react-router';

/** In place of a white page: what happened, that nothing is lost, and the way back. */
export function BrokenPage() {
  const error = useRouteError();
  const missing = error === undefined || isRouteErrorResponse(error);
  const detail = error instanceof Error ? error.message : '';
  return (
    <Result
      status={missing ? '404' : 'warning'}
      title={missing ? 'There is no such page' : 'This page cannot be shown'}
      subTitle={
        missing
          ? 'The address leads nowhere.'
          : `Your shots are saved up to the last change. What went wrong: ${detail}`
      }
      extra={
        <Link to="/" reloadDocument>
          <Button type="primary">Back to the shots</Button>
        </Link>
      }
    />
  );
}
