import { Tabs } from 'antd';
import { useEffect, useState } from 'react';
import { useBench } from './bench-store.ts';
import { EditsPanel } from './edits/edits-panel.tsx';
import { FigurePanel } from './figure/figure-panel.tsx';
import { Lanes } from './lanes/lanes.tsx';
import { Stage } from './stage/stage.tsx';

const PARTS = [
  { key: 'figure', label: 'Figure', children: <FigurePanel /> },
  { key: 'stage', label: 'Stage', children: <Stage /> },
  { key: 'lanes', label: 'Lanes', children: <Lanes /> },
  { key: 'edits', label: 'Edits', children: <EditsPanel /> },
];

/** The parts of the bench one at a time, where there is no room for all: a small window, or one seen at 200 %. */
export function SmallBench() {
  const [shown, setShown] = useState('stage');
  const openEdit = useBench((state) => state.openEdit);
  // An edit that is opened from anywhere, by its stroke or by Find, is seen.
  useEffect(() => {
    if (openEdit !== null) setShown('edits');
  }, [openEdit]);
  return (
    <Tabs
      className="bench-parts"
      size="small"
      centered
      destroyOnHidden
      activeKey={shown}
      onChange={setShown}
      items={PARTS}
    />
  );
}
