import { Button, Form, Input, InputNumber, Popover, Space } from 'antd';
import { useRef, useState } from 'react';
import { markersOf } from '@kneader/core';
import type { Marker } from '@kneader/core';
import { PASS_HUES } from '../../theme/palette.ts';
import { bench, shownShot, useBench } from '../bench-store.ts';
import { beginDrag } from '../gestures/drag.ts';
import { useSize } from '../use-size.ts';
import { nameMarker, useNamedMarker } from './named-marker.ts';
import { frameToX, xToFrame } from './time-axis.ts';
import type { TimeAxis } from './time-axis.ts';

/** Narrower rooms show no name. */
const NAMED_FROM = 30;

/** Frames with names, under the ruler: touched, the play-head goes there; dragged, they move; touched again, they are named. Takes no room where there is none. */
export function MarkerStrip() {
  const shot = useBench(shownShot);
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const holder = useRef<HTMLDivElement>(null);
  const { width } = useSize(holder);
  const open = useNamedMarker((state) => state.id);
  const markers = markersOf(shot);
  const axis = { from, to, width: Math.max(width, 1) };
  const seen = markers.filter(({ frame }) => frame >= from && frame <= to);
  return (
    <div ref={holder} className="marker-strip">
      {seen.map((marker, i) => {
        const x = frameToX(axis, marker.frame);
        const next = seen[i + 1];
        const room = (next ? frameToX(axis, next.frame) : axis.width) - x;
        return (
          <Popover
            key={marker.id}
            trigger={[]}
            destroyOnHidden
            placement="bottomLeft"
            open={open === marker.id}
            onOpenChange={(is) => !is && nameMarker(null)}
            title={`Marker at ${marker.frame}`}
            content={<MarkerForm marker={marker} done={() => nameMarker(null)} />}
          >
            <button
              type="button"
              className="marker"
              // The arrows are its own: see keys/key-owner.ts.
              data-arrows
              aria-label={`Marker ${marker.name} at frame ${marker.frame}`}
              title={`${marker.name}, frame ${marker.frame}: touch to go there, once more to name it, drag to move it`}
              style={{
                left: x,
                ['--hue' as string]: PASS_HUES[marker.colour],
                maxWidth: Math.max(room - 2, 12),
              }}
              onPointerDown={(event) => begin(event, marker, axis, () => nameMarker(marker.id))}
              onKeyDown={(event) => {
                const by = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0;
                if (by !== 0)
                  bench.perform(
                    'markers.set',
                    { marker: marker.id, frame: marker.frame + by },
                    undefined,
                    `Move ${marker.name}`,
                  );
                else if (event.key === 'Delete') bench.perform('markers.remove', { marker: marker.id });
                else if (event.key === 'Enter') touch(marker, () => nameMarker(marker.id));
                else return;
                event.preventDefault();
                event.stopPropagation();
              }}
            >
              {room >= NAMED_FROM && <span>{marker.name}</span>}
            </button>
          </Popover>
        );
      })}
    </div>
  );
}

/** Where the play-head is there already, it is named. */
function touch(marker: Marker, name: () => void): void {
  if (useBench.getState().frame === Math.round(marker.frame)) name();
  else bench.goToFrame(marker.frame);
}

function begin(
  event: React.PointerEvent<HTMLElement>,
  marker: Marker,
  axis: TimeAxis,
  name: () => void,
): void {
  if (event.button !== 0) return;
  const left = event.clientX - frameToX(axis, marker.frame);
  event.currentTarget.setPointerCapture(event.pointerId);
  beginDrag(event, {
    start: () => bench.beginGesture('markers.set'),
    move: ({ x }) => bench.updateGesture({ marker: marker.id, frame: Math.round(xToFrame(axis, x - left)) }),
    end: () => bench.commitGesture(`Move ${marker.name}`),
    click: () => touch(marker, name),
    cancel: bench.cancelGesture,
  });
}

interface MarkerValues {
  readonly name: string;
  readonly frame: number | null;
}

function MarkerForm({ marker, done }: { readonly marker: Marker; readonly done: () => void }) {
  const [colour, setColour] = useState(marker.colour);
  return (
    <Form<MarkerValues>
      size="small"
      layout="vertical"
      className="set-form"
      initialValues={{ name: marker.name, frame: marker.frame }}
      onFinish={({ name, frame }) => {
        bench.perform(
          'markers.set',
          { marker: marker.id, name: name.trim(), frame, colour },
          undefined,
          `Marker ${name.trim() || marker.name}`,
        );
        done();
      }}
    >
      <Form.Item name="name" label="Name">
        <Input autoFocus maxLength={60} onFocus={(event) => event.target.select()} />
      </Form.Item>
      <Form.Item name="frame" label="Stands at">
        <InputNumber />
      </Form.Item>
      <Form.Item label="Colour">
        <div className="marker-colours" role="radiogroup" aria-label="Colour">
          {PASS_HUES.map((hue, i) => (
            <button
              key={hue}
              type="button"
              role="radio"
              aria-checked={i === colour}
              aria-label={`Colour ${i + 1}`}
              style={{ background: hue }}
              onClick={() => setColour(i)}
            />
          ))}
        </div>
      </Form.Item>
      <Space size={6}>
        <Button type="primary" htmlType="submit">
          Save
        </Button>
        <Button
          danger
          onClick={() => {
            bench.perform('markers.remove', { marker: marker.id });
            done();
          }}
        >
          Remove
        </Button>
      </Space>
    </Form>
  );
}
