import { App } from 'antd';
import type { Finding } from '@kneader/core';

/** What is lost is said before anything is given out; true goes on. */
export function useAskOfLost() {
  const { modal } = App.useApp();
  return async (lost: readonly Finding[], okText = 'Export'): Promise<boolean> =>
    lost.length === 0 ||
    (await modal.confirm({
      title: 'Not all of the shot fits into this kind of file',
      content: lost.map(({ code, sentence }, i) => <p key={`${code} ${i}`}>{sentence}</p>),
      okText,
    }));
}
