import { Button, Result } from 'antd';
import { isRouteErrorResponse, Link, useRouteError } from 'react-router';

/** In place of a white page: what happened, that nothing is lost, and the way back. */
export function BrokenPage() {
  const error = useRouteError();
  if (isRouteErrorResponse(error)) return <MissingPage />;
  return (
    <Result
      status="warning"
      title="This page cannot be shown"
      subTitle={`Your shots are saved up to the last change. What went wrong: ${error instanceof Error ? error.message : 'it did not say'}`}
      extra={<WayBack />}
    />
  );
}

export function MissingPage() {
  return (
    <Result
      status="info"
      title="There is no such page"
      subTitle="The address leads nowhere."
      extra={<WayBack />}
    />
  );
}

const WayBack = () => (
  <Link to="/" reloadDocument>
    <Button type="primary">Back to the shots</Button>
  </Link>
);
