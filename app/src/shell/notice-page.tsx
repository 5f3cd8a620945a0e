import { Button, Result } from 'antd';
import { Link } from 'react-router';

interface NoticePageProps {
  readonly status: 'info' | 'warning';
  readonly title: string;
  readonly sentence: string;
  /** Loads the application anew on the way back: after a defect nothing of it is trusted. */
  readonly anew?: boolean;
}

/** In place of a page: what happened, and the way back. */
export function NoticePage({ status, title, sentence, anew = false }: NoticePageProps) {
  return (
    <main>
      <Result
        status={status}
        title={<h1 className="result-title">{title}</h1>}
        subTitle={sentence}
        extra={
          <Link to="/" reloadDocument={anew}>
            <Button type="primary">Back to the shots</Button>
          </Link>
        }
      />
    </main>
  );
}
