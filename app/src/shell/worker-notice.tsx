import { App } from 'antd';
import { useEffect } from 'react';
import { onWorkerLost } from '../bridge/bridge.ts';

/** Says when the part that works beside the page was lost and started again. */
export function WorkerNotice() {
  const { message } = App.useApp();
  useEffect(
    () =>
      onWorkerLost(() => {
        void message.warning(
          'The part that works beside the page had stopped and was started again. Nothing was lost.',
          8,
        );
      }),
    [message],
  );
  return null;
}
