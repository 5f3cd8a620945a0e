import { Alert, App, Button, Checkbox, Form, InputNumber, Modal, Progress, Select } from 'antd';
import { useCallback, useEffect, useRef, useState } from 'react';
import { framesOf, framesPerSecond, timecode } from '@kneader/core';
import type { Alignment, Shot } from '@kneader/core';
import { useAskedBeforeLeaving } from '../../shell/use-asked-before-leaving.ts';
import { saveFile } from '../../shots/save-file.ts';
import { headRange, useBench } from '../bench-store.ts';
import { useCompare } from '../compare/compare-store.ts';
import { FilmStage } from '../stage/film/film-stage.tsx';
import type { DrawFrame, Ground } from '../stage/film/film-stage.tsx';
import { blinkedAt } from './blinked-at.ts';
import { codecFor, makeFilm } from './make-film.ts';
import type { FilmKind } from './make-film.ts';

export interface FilmOptions {
  readonly kind: FilmKind;
  readonly lines: 720 | 1080;
  readonly from: number;
  readonly to: number;
  readonly times: number;
  readonly isCamera: boolean;
  readonly ground: Ground;
  readonly captions: readonly ('name' | 'frame' | 'timecode')[];
}

interface FilmDialogProps {
  readonly shot: Shot;
  readonly beside?: {
    readonly shot: Shot;
    readonly alignment: Alignment;
    readonly size: number;
    readonly names: readonly [string, string];
  };
  readonly onEnd: () => void;
}

const SHAPE = 16 / 9;
/** Frames beyond which it is said how long it will be. */
const LONG = 2000;

/** A film of the stage, or numbered pictures. The bench can be used meanwhile; the film shows the shot as it was when it began. */
export default function FilmDialog({ shot, beside, onEnd }: FilmDialogProps) {
  const { message } = App.useApp();
  const marked = useBench((state) => state.session.selection.range);
  const whole = useBench(headRange);
  const [form] = Form.useForm<FilmOptions>();
  const [making, setMaking] = useState<FilmOptions | null>(null);
  const [share, setShare] = useState<readonly [number, number]>([0, 1]);
  const [problem, setProblem] = useState<string | null>(null);
  const [cannot, setCannot] = useState<readonly FilmKind[]>([]);
  const leaving = useRef(new AbortController());
  const hasCamera = shot.nodes.some(({ kind }) => kind === 'camera');
  const kind = Form.useWatch('kind', form) ?? 'webm';
  useEffect(() => {
    void (async () => {
      const found: FilmKind[] = [];
      for (const one of ['webm', 'mp4'] as const)
        if ((await codecFor(one, 1280, 720)) === null) found.push(one);
      setCannot(found);
      if (found.includes(form.getFieldValue('kind') as FilmKind)) form.setFieldValue('kind', 'png');
    })();
  }, [form]);
  useEffect(() => () => leaving.current.abort(), []);
  const isMaking = making !== null;
  // What is half made is nothing: whoever goes is asked, and told.
  useAskedBeforeLeaving(isMaking);
  const unfinished = useRef(false);
  unfinished.current = isMaking;
  useEffect(
    () => () => {
      if (unfinished.current) void message.warning('The film was not finished, and nothing of it is saved.');
    },
    [message],
  );
  const names = beside?.names;
  const ready = useCallback(
    async (draw: DrawFrame) => {
      if (!making) return;
      const { width, height } = sizeOf(making.lines);
      try {
        const film = await makeFilm({
          ...{ kind: making.kind, width, height, times: making.times },
          frames: [...framesOf({ start: making.from, end: making.to })],
          framesPerSecond: framesPerSecond(shot.rate),
          paint: (picture, frame) => {
            picture.drawImage(draw(frame), 0, 0, width, height);
            writeCaptions(picture, shot, frame, making, names);
          },
          signal: leaving.current.signal,
          onShare: (done, all) => setShare([done, all]),
        });
        if (film) {
          saveFile(`${shot.name}.${making.kind === 'png' ? 'pictures.zip' : making.kind}`, film, film.type);
          unfinished.current = false;
          void message.success(`Frames ${making.from} to ${making.to} are saved.`);
          onEnd();
        }
      } catch (error) {
        setProblem(error instanceof Error ? error.message : String(error));
      }
      setMaking(null);
    },
    [making, shot, names, message, onEnd],
  );
  const begin = (options: FilmOptions) => {
    if (options.to < options.from)
      return setProblem(`The range ${options.from} to ${options.to} is turned round.`);
    leaving.current = new AbortController();
    setProblem(null);
    setShare([0, 1]);
    setMaking(options);
  };
  const leave = () => {
    leaving.current.abort();
    setMaking(null);
  };
  const range = marked ?? whole;
  return (
    <>
      <Modal
        open={making === null}
        title={beside ? `Film of ${beside.names[0]} and ${beside.names[1]}` : 'Film or numbered pictures'}
        width={460}
        onCancel={onEnd}
        footer={
          <>
            <Button onClick={onEnd}>Cancel</Button>
            <Button type="primary" onClick={() => form.submit()}>
              Make it
            </Button>
          </>
        }
      >
        {problem !== null && <Alert type="warning" showIcon message={problem} style={{ marginBottom: 12 }} />}
        <Form<FilmOptions>
          form={form}
          size="small"
          layout="vertical"
          className="film-form"
          initialValues={{
            ...{ kind: 'webm', lines: 720, times: 1, ground: 'room', captions: ['frame'] },
            ...{ from: Math.ceil(range.start), to: Math.floor(range.end), isCamera: false },
          }}
          onFinish={begin}
        >
          {cannot.includes('webm') && (
            <Alert
              type="info"
              message="This browser has no encoder for films: numbered pictures can be made."
              style={{ marginBottom: 12 }}
            />
          )}
          <Form.Item name="kind" label="As">
            <Select
              popupMatchSelectWidth={false}
              options={[
                { value: 'webm', label: 'Film, WebM', disabled: cannot.includes('webm') },
                { value: 'mp4', label: 'Film, MP4', disabled: cannot.includes('mp4') },
                { value: 'png', label: 'Numbered pictures, PNG in a zip' },
              ]}
            />
          </Form.Item>
          <div className="film-row">
            <Form.Item name="from" label="First frame">
              <InputNumber precision={0} min={whole.start} max={whole.end} />
            </Form.Item>
            <Form.Item name="to" label="Last frame">
              <InputNumber precision={0} min={whole.start} max={whole.end} />
            </Form.Item>
            {kind !== 'png' && (
              <Form.Item name="times" label="Shown, times">
                <InputNumber precision={0} min={1} max={100} />
              </Form.Item>
            )}
          </div>
          <div className="film-row">
            <Form.Item name="lines" label="Size">
              <Select
                popupMatchSelectWidth={false}
                options={[
                  { value: 720, label: '1280 × 720' },
                  { value: 1080, label: '1920 × 1080' },
                ]}
              />
            </Form.Item>
            <Form.Item name="isCamera" label="View">
              <Select
                popupMatchSelectWidth={false}
                options={[
                  { value: false, label: 'As the stage is' },
                  { value: true, label: 'The shot’s camera', disabled: !hasCamera },
                ]}
              />
            </Form.Item>
            <Form.Item name="ground" label="Behind">
              <Select
                popupMatchSelectWidth={false}
                options={[
                  { value: 'room', label: 'The room' },
                  { value: 'plain', label: 'White' },
                  { value: 'none', label: 'Nothing', disabled: kind !== 'png' },
                ]}
              />
            </Form.Item>
          </div>
          <Form.Item name="captions" label="Written on it">
            <Checkbox.Group
              options={[
                { value: 'name', label: 'Name' },
                { value: 'frame', label: 'Frame' },
                { value: 'timecode', label: 'Timecode' },
              ]}
            />
          </Form.Item>
          <Length form={form} shot={shot} />
        </Form>
      </Modal>
      {making && (
        <div className="film-progress" role="group" aria-label="Film">
          <span>
            Filming {making.from}–{making.to}
          </span>
          <Progress
            size="small"
            percent={Math.floor((100 * share[0]) / share[1])}
            format={() => `${share[0]} of ${share[1]}`}
            aria-label="Pictures made"
          />
          <Button size="small" onClick={leave}>
            Leave it
          </Button>
        </div>
      )}
      {making && (
        <FilmStage
          shot={shot}
          beside={beside ?? null}
          isCamera={making.isCamera}
          ground={making.kind !== 'png' && making.ground === 'none' ? 'plain' : making.ground}
          {...sizeOf(making.lines)}
          onReady={(draw) => void ready(draw)}
        />
      )}
    </>
  );
}

function Length({
  form,
  shot,
}: {
  readonly form: ReturnType<typeof Form.useForm<FilmOptions>>[0];
  readonly shot: Shot;
}) {
  const [from = 0, to = 0, times = 1] = [
    Form.useWatch('from', form),
    Form.useWatch('to', form),
    Form.useWatch('times', form),
  ];
  const frames = Math.max(0, to - from + 1) * times;
  const seconds = frames / framesPerSecond(shot.rate);
  return (
    <p className="soft" role="status">
      {frames} pictures, {seconds.toFixed(seconds < 10 ? 2 : 1)} s
      {frames > LONG && ': this takes some minutes, and the tab must stay open'}
    </p>
  );
}

const sizeOf = (lines: number) => ({ width: Math.round(lines * SHAPE), height: lines });

/** Words on the picture: dark on light, readable over anything. */
function writeCaptions(
  picture: OffscreenCanvasRenderingContext2D,
  shot: Shot,
  frame: number,
  { captions, lines }: FilmOptions,
  names?: readonly [string, string],
): void {
  const size = Math.round(lines / 36);
  const pad = size * 0.5;
  picture.font = `600 ${size}px 'Recursive Variable', sans-serif`;
  picture.textBaseline = 'middle';
  const write = (text: string, x: number, y: number, isRight: boolean) => {
    const wide = picture.measureText(text).width + 2 * pad;
    const left = isRight ? x - wide : x;
    picture.fillStyle = 'rgb(255 251 243 / 85%)';
    picture.fillRect(left, y - size * 0.8, wide, size * 1.6);
    picture.fillStyle = '#2d231b';
    picture.fillText(text, left + pad, y);
  };
  const { width, height } = sizeOf(lines);
  const bottom = height - size * 1.5;
  const counted = [
    ...(captions.includes('frame') ? [String(frame)] : []),
    ...(captions.includes('timecode') ? [timecode(frame, framesPerSecond(shot.rate))] : []),
  ].join('  ');
  if (counted !== '') write(counted, width - size, size * 1.5, true);
  if (captions.includes('name')) write(shot.name, size, size * 1.5, false);
  if (!names) return;
  // A blink shows one of the two, under its own name.
  const shown = useCompare.getState().look === 'blink' ? blinkedAt(shot, frame) : null;
  if (shown !== 'b') write(names[0], size, bottom, false);
  if (shown === 'b') write(names[1], size, bottom, false);
  if (shown === null) write(names[1], width - size, bottom, true);
}
