import { Alert, Button, Form, InputNumber, Modal, Select, Switch } from 'antd';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import { finding, sheetOptions, SHEETS, svgOf } from '@kneader/core';
import type { Page, Shot } from '@kneader/core';
import { bridge } from '../../bridge/bridge.ts';
import { saveFile } from '../../shots/save-file.ts';
import { useBench } from '../bench-store.ts';
import { numberOf } from '../shot-number.ts';

interface SheetChoice {
  readonly kind: string;
  readonly notes: boolean;
  readonly onlyMarked: boolean;
  readonly turn: number;
}

/** Pictures are twice as fine as points; beyond so many lines a browser draws none. */
const FINER = 2;
const MOST_LINES = 16_000;

/** A sheet to print: seen before it is saved. */
export default function SheetDialog({ onEnd }: { readonly onEnd: () => void }) {
  const shot = useBench((state) => state.session.shot);
  const marked = useBench((state) => state.session.selection.range);
  const channels = useBench((state) => state.session.selection.channels);
  const [form] = Form.useForm<SheetChoice>();
  const [choice, setChoice] = useState<SheetChoice>({
    kind: 'contact',
    notes: true,
    onlyMarked: false,
    turn: 28,
  });
  const [problem, setProblem] = useState<string | null>(null);
  const { takes } = SHEETS.find(({ kind }) => kind === choice.kind)!;
  const options = useMemo(
    () =>
      sheetOptions.parse({
        notes: choice.notes,
        turn: choice.turn,
        ...(choice.onlyMarked && marked && { from: marked.start, to: marked.end }),
        ...(takes.includes('channels') && channels.length > 0 && { channels: [...channels] }),
      }),
    [choice, takes, marked, channels],
  );
  const made = useSheet(shot, choice.kind, options);
  const svg = useMemo(() => (made.pages ? svgOf(made.pages, shot.name) : null), [made.pages, shot.name]);
  const seen = useObjectUrl(made.pages && svgOf(made.pages.slice(0, 1), shot.name));
  const name = `${shot.name} ${choice.kind}`;
  const savePdf = async () => {
    const { bytes, lacking } = await bridge.pdf(made.pages!, shot.name);
    if (lacking.length > 0) setProblem(finding('lettersLacking', {}, lacking).sentence);
    saveFile(`${name}.pdf`, bytes, 'application/pdf');
  };
  const savePng = async () => {
    const height = made.pages!.reduce((sum, page) => sum + page.height, 0) * FINER;
    if (height > MOST_LINES) {
      setProblem(`${made.pages!.length} pages are too much for one picture: take PDF or SVG.`);
      return;
    }
    saveFile(
      `${name}.png`,
      await pictureOf(svg!, Math.max(...made.pages!.map(({ width }) => width)) * FINER, height),
      'image/png',
    );
  };
  const isReady = made.pages !== null;
  return (
    <Modal
      open
      title="Sheet to print"
      width={980}
      onCancel={onEnd}
      footer={
        <>
          <span className="soft sheet-pages">
            {made.pages &&
              `${made.pages.length} ${made.pages.length === 1 ? 'page' : 'pages, the first is shown'}`}
          </span>
          <Button onClick={onEnd}>Close</Button>
          <Button disabled={!isReady} onClick={() => void savePng()}>
            PNG
          </Button>
          <Button disabled={!isReady} onClick={() => saveFile(`${name}.svg`, svg!, 'image/svg+xml')}>
            SVG
          </Button>
          <Button type="primary" disabled={!isReady} onClick={() => void savePdf()}>
            PDF
          </Button>
        </>
      }
    >
      {(problem ?? made.problem) !== null && (
        <Alert type="warning" showIcon message={problem ?? made.problem} style={{ marginBottom: 12 }} />
      )}
      <div className="sheet-dialog">
        <Form<SheetChoice>
          form={form}
          size="small"
          layout="vertical"
          initialValues={choice}
          onValuesChange={(_, all) => {
            setProblem(null);
            setChoice({ ...choice, ...all, turn: all.turn ?? choice.turn });
          }}
        >
          <Form.Item name="kind" label="Sheet">
            <Select
              popupMatchSelectWidth={false}
              options={SHEETS.map(({ kind, label }) => ({ value: kind, label }))}
            />
          </Form.Item>
          {takes.includes('notes') && (
            <Form.Item name="notes" label="With notes" valuePropName="checked">
              <Switch size="small" />
            </Form.Item>
          )}
          {takes.includes('turn') && (
            <Form.Item name="turn" label="Seen from, degrees" tooltip="0 looks at the face, 90 from his left">
              <InputNumber min={-180} max={180} step={15} />
            </Form.Item>
          )}
          {marked && (
            <Form.Item
              name="onlyMarked"
              label={`Only ${marked.start} to ${marked.end}`}
              valuePropName="checked"
            >
              <Switch size="small" />
            </Form.Item>
          )}
          {choice.kind === 'curves' && (
            <p className="soft">
              {channels.length > 0
                ? 'The channels that are chosen.'
                : 'The channels that move most; choose others on the bench.'}
            </p>
          )}
        </Form>
        <div className="sheet-seen">
          {seen && <img src={seen} alt={`The first page of the ${choice.kind} sheet`} />}
        </div>
      </div>
    </Modal>
  );
}

function useSheet(
  shot: Shot,
  kind: string,
  options: ReturnType<typeof sheetOptions.parse>,
): { readonly pages: readonly Page[] | null; readonly problem: string | null } {
  const { data, error } = useQuery({
    queryKey: ['sheet', numberOf(shot), kind, options],
    queryFn: () => bridge.sheet(shot, kind, options),
    gcTime: 0,
    structuralSharing: false,
  });
  if (error) return { pages: null, problem: error.message };
  if (data && 'refusal' in data) return { pages: null, problem: data.refusal.sentence };
  return { pages: data ?? null, problem: null };
}

/** An address for an SVG, as long as it is looked at. */
function useObjectUrl(svg: string | null): string | null {
  const [made, setMade] = useState<{ readonly of: string; readonly url: string } | null>(null);
  useEffect(() => {
    if (svg === null) return;
    const url = URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }));
    setMade({ of: svg, url });
    return () => URL.revokeObjectURL(url);
  }, [svg]);
  // One that was let go is shown no more.
  return made?.of === svg ? (made?.url ?? null) : null;
}

async function pictureOf(svg: string, width: number, height: number): Promise<Blob> {
  const url = URL.createObjectURL(new Blob([svg], { type: 'image/svg+xml' }));
  try {
    const image = new Image();
    image.src = url;
    await image.decode();
    const canvas = new OffscreenCanvas(Math.round(width), Math.round(height));
    canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
    return await canvas.convertToBlob({ type: 'image/png' });
  } finally {
    URL.revokeObjectURL(url);
  }
}
