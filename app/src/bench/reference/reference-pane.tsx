import { Alert, Button, Form, InputNumber, Popconfirm, Segmented, Upload } from 'antd';
import { useCallback, useEffect, useRef } from 'react';
import { framesPerSecond, poseColumns, warpToMarks } from '@kneader/core';
import type { ReferencePlace } from '../../store/references.ts';
import { bench, useBench } from '../bench-store.ts';
import { frameAtMoment, momentAt } from './film-time.ts';
import {
  closeReference,
  openReference,
  placeReference,
  removeReference,
  takeReference,
  useReference,
} from './reference-state.ts';
import { usePicture } from './use-picture.ts';

/** Opens what lies beside the shot with it, and lets it go with it. */
export function useReferenceOf(shot: string): void {
  useEffect(() => {
    void openReference(shot);
    return closeReference;
  }, [shot]);
}

/** The film beside the stage: in step with the play-head, with its marks. */
export function ReferencePane({ onClose }: { readonly onClose: () => void }) {
  const reference = useReference((state) => state.reference);
  const problem = useReference((state) => state.problem);
  return (
    <section className="reference" aria-label="Reference film">
      {problem !== null && <Alert type="warning" message={problem} />}
      {reference ? <Shown onClose={onClose} /> : <Choose onClose={onClose} />}
    </section>
  );
}

function Choose({ onClose }: { readonly onClose: () => void }) {
  return (
    <>
      <Upload.Dragger
        multiple
        showUploadList={false}
        accept="video/*,image/*"
        beforeUpload={(file, all) => {
          // Told once for each of several files: the last time is enough.
          if (file === all.at(-1)) void takeReference(all);
          return false;
        }}
      >
        <p>A film (WebM, MP4) or numbered pictures to look at beside the figure. It stays in this browser.</p>
      </Upload.Dragger>
      <Button size="small" onClick={onClose}>
        Close
      </Button>
    </>
  );
}

function Shown({ onClose }: { readonly onClose: () => void }) {
  const { name, place } = useReference((state) => state.reference)!;
  const footage = useReference((state) => state.footage);
  const rate = useBench((state) => framesPerSecond(state.session.shot.rate));
  const mark = () => {
    if (!footage) return;
    const moment = momentAt(place, useBench.getState().frame, rate, footage.duration);
    placeReference({ marks: [...new Set([...place.marks, moment])].sort((a, b) => a - b) });
  };
  const marked = () => place.marks.map((moment) => Math.round(frameAtMoment(place, moment, rate)));
  const toWarp = () => {
    const { shot } = useBench.getState().session;
    bench.openEdit('timing.warp');
    bench.setWarp(warpToMarks(poseColumns(shot).frames, marked(), shot.range));
  };
  const toColumns = () => {
    const add = marked();
    bench.perform(
      'timing.setColumns',
      { add: [...new Set(add)] },
      undefined,
      `${add.length} marks as pose columns`,
    );
  };
  return (
    <>
      <header>
        <b title={name}>{name}</b>
        <Segmented<ReferencePlace['place']>
          size="small"
          aria-label="Where it lies"
          value={place.place}
          onChange={(next) => placeReference({ place: next })}
          options={[
            { value: 'beside', label: 'Beside' },
            { value: 'behind', label: 'Behind' },
          ]}
        />
      </header>
      {place.place === 'beside' && <Picture />}
      <Form size="small" layout="inline" colon={false} className="reference-form">
        <Form.Item label="Offset" tooltip="The frame of the shot on which the film begins">
          <InputNumber
            aria-label="The film begins at frame"
            value={place.offset}
            onChange={(value) => value !== null && placeReference({ offset: value })}
          />
        </Form.Item>
        <Form.Item label="Rate">
          <InputNumber
            aria-label="Rate of the film"
            value={place.rate}
            min={0.01}
            max={100}
            step={0.05}
            onChange={(value) => value !== null && placeReference({ rate: value })}
          />
        </Form.Item>
        <Form.Item label="In">
          <InputNumber
            aria-label="First second of the film"
            value={place.from}
            min={0}
            {...(footage && { max: footage.duration })}
            step={0.1}
            onChange={(value) => value !== null && placeReference({ from: value })}
          />
        </Form.Item>
        <Form.Item label="Out">
          <InputNumber
            aria-label="Last second of the film"
            value={place.to}
            min={0}
            placeholder="end"
            step={0.1}
            onChange={(value) => placeReference({ to: value })}
          />
        </Form.Item>
      </Form>
      <p className="soft reference-facts">
        {footage
          ? `${footage.duration.toFixed(2)} s, ${footage.width} × ${footage.height}${footage.framesPerSecond > 0 ? `, ${Number(footage.framesPerSecond.toFixed(3))} pictures a second` : ''}${footage.isExact ? '' : '; by the browser’s player, which may be a picture off'}`
          : 'Opening …'}
      </p>
      <div className="reference-marks" role="group" aria-label="Marks">
        <Button size="small" onClick={mark} disabled={!footage}>
          Mark here
        </Button>
        {place.marks.map((moment) => {
          const frame = frameAtMoment(place, moment, rate);
          return (
            <Button
              key={moment}
              size="small"
              type="dashed"
              title={`${moment.toFixed(3)} s of the film; with Shift it is removed`}
              onClick={(event) =>
                event.shiftKey
                  ? placeReference({ marks: place.marks.filter((one) => one !== moment) })
                  : bench.goToFrame(frame)
              }
            >
              {Number(frame.toFixed(1))}
            </Button>
          );
        })}
        {place.marks.length > 0 && (
          <>
            <Button size="small" type="primary" onClick={toColumns}>
              Make pose columns
            </Button>
            <Button
              size="small"
              title="Opens Warp with a point for each mark: the pose nearest to it comes there"
              onClick={toWarp}
            >
              Bring poses here
            </Button>
          </>
        )}
      </div>
      <footer>
        <Button size="small" onClick={onClose}>
          Hide
        </Button>
        <Popconfirm
          title="Take the film away from this shot?"
          okText="Take it away"
          onConfirm={() => void removeReference()}
        >
          <Button size="small" danger type="text">
            Take away
          </Button>
        </Popconfirm>
      </footer>
    </>
  );
}

function Picture() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const draw = useCallback((picture: CanvasImageSource, width: number, height: number) => {
    const target = canvas.current;
    if (!target) return;
    if (target.width !== width || target.height !== height) {
      target.width = width;
      target.height = height;
    }
    target.getContext('2d')?.drawImage(picture, 0, 0, width, height);
  }, []);
  usePicture(draw);
  return (
    <canvas ref={canvas} className="reference-picture" aria-label="The film at the play-head" role="img" />
  );
}
