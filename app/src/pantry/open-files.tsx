import { UploadOutlined } from '../theme/icons.tsx';
import { Button, Upload } from 'antd';
import { useRef, useState } from 'react';
import { bridge } from '../bridge/bridge.ts';
import { ACTION_ENDING } from './action-file-name.ts';
import type { ReadFromFile, Unopened } from './action-files.ts';

interface OpenFilesProps {
  readonly onOpened: (actions: readonly ReadFromFile[]) => Promise<void>;
  /** After the last file: what could not be opened of all. */
  readonly onEnd: (unopened: readonly Unopened[]) => void;
}

/** Opens files of actions and says how far it is; told apart from the page, so that each share draws this alone. */
export function OpenFiles({ onOpened, onEnd }: OpenFilesProps) {
  const [reading, setReading] = useState<number | null>(null);
  const left = useRef(false);
  const open = async (files: readonly File[]) => {
    const problems: Unopened[] = [];
    setReading(0);
    left.current = false;
    try {
      for (const file of files) {
        const bytes = new Uint8Array(await file.arrayBuffer());
        const opened = await bridge.openActions(file.name, bytes, (share) => {
          setReading(share);
          return !left.current;
        });
        problems.push(...opened.unopened);
        await onOpened(opened.actions);
      }
    } finally {
      setReading(null);
      onEnd(problems);
    }
  };
  return (
    <>
      <Upload
        accept={`${ACTION_ENDING},.json,.zip`}
        showUploadList={false}
        multiple
        beforeUpload={(file, files) => {
          if (file === files[0]) void open(files);
          return false;
        }}
      >
        <Button icon={<UploadOutlined />} loading={reading !== null}>
          {reading === null || reading === 0 ? 'Open files' : `${Math.round(100 * reading)} % read`}
        </Button>
      </Upload>
      {reading !== null && (
        <Button onClick={() => (left.current = true)} title="What is read already stays.">
          Stop
        </Button>
      )}
    </>
  );
}
