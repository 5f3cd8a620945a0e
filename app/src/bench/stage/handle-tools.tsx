import { AimOutlined, DragOutlined, GroupOutlined, SyncOutlined } from '../../theme/icons.tsx';
import { Button } from 'antd';
import { useMemo } from 'react';
import { toggleHandle } from '../bench-actions.ts';
import { useBench } from '../bench-store.ts';
import { useStrokes } from '../keys/key-map.ts';
import { setHandle, useHandleMode } from './handle-mode.ts';
import { canDo, doingOf, ledNodes } from './handled.ts';

/** Whether the handle moves or turns, and about what several controls turn; shown where there is a choice. */
export function HandleTools() {
  const nodes = useBench((state) => state.session.shot.nodes);
  const selected = useBench((state) => state.session.selection.nodes);
  const wished = useHandleMode((state) => state.does);
  const about = useHandleMode((state) => state.about);
  const strokeFor = useStrokes();
  const led = useMemo(() => ledNodes(nodes, selected), [nodes, selected]);
  const can = canDo(led);
  const does = doingOf(led, wished, nodes);
  return (
    <>
      {can.move && can.turn && (
        <Button
          size="small"
          icon={does === 'move' ? <DragOutlined /> : <SyncOutlined />}
          aria-label={does === 'move' ? 'Handle moves' : 'Handle turns'}
          title={`The handle ${does === 'move' ? 'moves; touched, it turns' : 'turns; touched, it moves'} (${strokeFor('handle')})`}
          onClick={toggleHandle}
        />
      )}
      {led.length > 1 && does === 'turn' && (
        <Button
          size="small"
          icon={about === 'middle' ? <GroupOutlined /> : <AimOutlined />}
          aria-label={about === 'middle' ? 'About their middle' : 'Each about itself'}
          title={
            about === 'middle'
              ? 'Turned about their middle; touched, each about itself'
              : 'Each turned about itself; touched, about their middle'
          }
          onClick={() => setHandle({ about: about === 'middle' ? 'each' : 'middle' })}
        />
      )}
    </>
  );
}
